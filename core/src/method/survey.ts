import { findingOf, lacking, type Finding } from './verdict/finding';
import { figureOf, keeps, strict, type Grade, type Reason, type Spot, type SurveyMethod } from '../procedure';
import { decimal, decimalIn } from '../quantity';
import { type Attempted } from './evidence/attempted';
import { milliseconds, stepsUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { condemned, limitsOn } from './verdict/value';

/** The edition of this method. */
export const SURVEY_EDITION = 'survey/1';

type At = Attempted<SurveyMethod>;

/** Grades in their order, from nothing to a stream that grows. */
export const grades: readonly Grade[] = ['none', 'fewAtFirst', 'stream', 'grows'];

/**
 * The place of a grade in their order.
 * @example gradeRank('stream') // 2
 */
export const gradeRank = (grade: Grade): number => grades.indexOf(grade);

/**
 * @example surveyTask(exampleOf('ba.soap-survey', 'soap').at).kind // 'end'
 */
export function surveyTask(at: At): Task {
  const spot = at.method.route.find((s) => at.record.spots[s.id] === undefined);
  return spot ? { kind: 'spot', spot } : { kind: 'end' };
}

/** The first place that was looked at before the one that the route has before it. */
function outOfRoute(at: At): Reason | null {
  let before = at.record.beganAt;
  for (const spot of at.method.route) {
    const seen = at.record.spots[spot.id];
    if (!seen) continue;
    if (seen.firstAt < before) return { code: 'outOfOrder', values: { step: spot.text } };
    before = seen.firstAt;
  }
  return null;
}

/** When the looking at a place began: when the one before it was graded, or the last step was done. */
function lookedFrom(at: At, spot: Spot): number {
  const others = at.method.route.filter((s) => s.id !== spot.id).map((s) => at.record.spots[s.id]?.firstAt ?? Number.NEGATIVE_INFINITY);
  const own = at.record.spots[spot.id]?.firstAt ?? Number.POSITIVE_INFINITY;
  return Math.max(at.record.beganAt, ...at.record.marks.map((m) => m.at).filter((m) => m <= own), ...others.filter((o) => o < own));
}

/**
 * Why a place may not be called dry yet, or its bubbles trapped air: it was not looked at for as long as a place takes; null where it was, or it streams.
 * @example spotTooSoon(exampleOf('ba.soap-survey', 'soap').at, { id: 'x', text: 'Hose' }, 'stream', 0) // null
 */
export function spotTooSoon(at: At, spot: Spot, grade: Grade, when: number): Reason | null {
  const { plan, method } = at;
  if (!strict(plan) || method.each === undefined || gradeRank(grade) > gradeRank('fewAtFirst')) return null;
  const wanted = figureOf(plan, method.each);
  const waited = when - lookedFrom(at, spot);
  return waited < milliseconds(wanted) ? { code: 'tooSoon', values: { item: spot.text, waited: { value: waited / 1000, unit: 's' }, wanted } } : null;
}

function hurried(at: At): Reason | null {
  for (const spot of at.method.route) {
    const seen = at.record.spots[spot.id];
    const reason = seen && spotTooSoon(at, spot, seen.worst, seen.firstAt);
    if (reason) return reason;
  }
  return null;
}

/**
 * Judges a survey: every place of the route is soaped in its order and graded by how it bubbles; the limit is the worst grade that is still no leak. A leak
 * that has been seen is a leak, even when the route was left out of order or unfinished.
 * Source: the rule set's own, common practice.
 * @returns a finding for each place that leaks, or one for the whole route
 * @example judgeSurvey(exampleOf('ba.soap-survey', 'soap', 'line joint').at)[0]?.verdict // 'fail'
 */
export function judgeSurvey(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const limits = limitsOn(plan, stage.id, null).filter((l) => l.of === 'grade');
  const leaks = method.route.flatMap((spot): Finding[] => {
    const seen = record.spots[spot.id];
    if (!seen) return [];
    // What was seen to leak stays a leak, however it is graded afterwards.
    const grade = strict(plan) ? seen.worst : seen.grade;
    const rank = gradeRank(grade);
    const broken = limits.find((l) => !keeps(decimal(rank), l.op, decimalIn(l.resolved, '1')));
    const bubbles: Reason = { code: 'bubbles', values: { spot: spot.text, grade } };
    // Who only looks for where it leaks has no limit to hold it against: a stream is what was looked for.
    if (stage.seeks && !broken && rank >= gradeRank('stream')) return [findingOf(at, SURVEY_EDITION, null, 'fail', [bubbles], [seen.event])];
    if (!broken) return [];
    return [
      {
        ...findingOf(at, SURVEY_EDITION, null, 'fail', [bubbles, ...condemned(broken, 'fail')], [seen.event]),
        limit: broken,
        observed: { value: rank, unit: '1' },
      },
    ];
  });
  const order = outOfRoute(at) ?? hurried(at) ?? (record.endedAt === null ? null : stepsUnmet(at, record.endedAt));
  if (order) return [...leaks, findingOf(at, SURVEY_EDITION, null, 'void', [order])];
  const open = method.route.find((s) => record.spots[s.id] === undefined);
  if (open) {
    const { verdict, reason } = lacking(record, { code: 'unanswered', values: { item: open.text } });
    return [...leaks, findingOf(at, SURVEY_EDITION, null, verdict, [reason])];
  }
  if (leaks.length > 0) return leaks;
  const evidence = Object.values(record.spots).map((s) => s.event);
  return [
    findingOf(
      at,
      SURVEY_EDITION,
      null,
      stage.seeks ? 'undecided' : 'pass',
      [{ code: stage.seeks ? 'notFound' : 'dry', values: { places: String(method.route.length) } }],
      evidence,
    ),
  ];
}
