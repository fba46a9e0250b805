import { findingOf, type Finding } from './verdict/finding';
import { readingAt } from './evidence/readings';
import { figureOf, itemsOf, strict, type CheckItem, type CheckMethod, type Phase, type Reason, type Verdict } from '../procedure';
import { type Attempted } from './evidence/attempted';
import type { StageRecord } from './evidence/record';
import { isDoubtful, isShown, shownUnmet } from './evidence/shown';
import { milliseconds, stepsUnmet } from './evidence/steps';
import type { Task } from './evidence/task';

/** The edition of this method. It changes when the same answers could be judged otherwise. */
export const CHECK_EDITION = 'check/1';

/** Whether every item has its answer, or an automatic item has ended the matter. */
function checkAnswered(method: CheckMethod, record: StageRecord): boolean {
  return failedAutomatic(method, record) || method.items.every((i) => record.answers[i.id] !== undefined);
}

function failedAutomatic(method: CheckMethod, record: StageRecord): boolean {
  return method.items.some((i) => i.automatic && record.answers[i.id]?.answer === 'no');
}

/**
 * When the looking at an item began: when whatever was said or done last before its answer was. Where a rig's clock stands still several things are said at one moment:
 * what is asked after this one was said after it.
 */
function lookedFrom({ method, record }: Pick<Attempted, 'method' | 'record'>, item: CheckItem, when: number): number {
  const order = itemsOf(method).map((i) => i.id);
  const isLater = (id: string, at: number): boolean => at === when && order.indexOf(id) > order.indexOf(item.id);
  const answers = Object.entries(record.answers).flatMap(([id, a]) => (id === item.id || isLater(id, a.at) ? [] : [a]));
  const before = [...record.marks, ...answers].map((x) => x.at);
  return Math.max(record.beganAt, ...before.filter((at) => at <= when));
}

/**
 * Why an item may not be answered with yes at a moment: its gauge shows otherwise, or it was not looked at for as long as it takes. Null where it may, and
 * under rules that take somebody's word.
 * @example ((r) => yesUnmet(r.at, { id: 'x', text: 'Sound' }, 0))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function yesUnmet(at: Attempted, item: CheckItem, when: number): Reason | null {
  const { plan, stage } = at;
  if (!strict(plan)) return null;
  if (item.for !== undefined) {
    const wanted = figureOf(plan, item.for);
    const waited = when - lookedFrom(at, item, when);
    if (waited < milliseconds(wanted)) return { code: 'tooSoon', values: { item: item.text, waited: { value: waited / 1000, unit: 's' }, wanted } };
  }
  const reason = shownUnmet(at, item, when) ?? readBefore(at, item, when);
  return isSaidAfterwards(stage.phase, reason) ? null : reason;
}

/** What has to be read while an item is looked at, and was read before. */
function readBefore(at: Attempted, item: CheckItem, when: number): Reason | null {
  const { record, instruments } = at;
  const { shown } = item;
  if (!shown || !('fresh' in shown) || !isShown(item, instruments)) return null;
  const reading = readingAt(record, shown.channel, when);
  return reading && reading.at >= lookedFrom(at, item, when) ? null : { code: 'noReading', values: { channel: shown.channel } };
}

/** Once the test is over, a gauge on which nothing ever stood is as good as none: that nothing is left is then said, and the finding says so. */
const isSaidAfterwards = (phase: Phase, reason: Reason | null): boolean => phase === 'aftercare' && reason?.code === 'neverShown';

/**
 * @example checkTask({ ...exampleOf('suit.inflation', 'inflate').at, method: { kind: 'check', items: [item('visor', 'Visor whole')] } }).kind // 'answer'
 */
export function checkTask({ method, record }: Attempted<CheckMethod>): Task {
  const item = checkAnswered(method, record) ? undefined : method.items.find((i) => record.answers[i.id] === undefined);
  return item ? { kind: 'answer', item } : { kind: 'end' };
}

/** What is shown by a gauge out of its calibration, in one reason; none where nothing is. */
function doubted({ plan, instruments }: Attempted, items: readonly CheckItem[]): readonly Reason[] {
  const doubtful = strict(plan) ? items.filter((i) => isDoubtful(i, instruments)) : [];
  return doubtful.length > 0 ? [{ code: 'shownUncalibrated', values: { items: doubtful.map((i) => i.text).join('; ') } }] : [];
}

/** An answer that an item does not have: it applies to every item, or there is nothing between its sound and its bad. Both want their reason. */
function mayNotSay(i: CheckItem, record: StageRecord): boolean {
  const given = record.answers[i.id];
  if (given?.answer === 'notApplicable') return !i.optional || !given.reason;
  return given?.answer === 'watch' && (!i.watch || !given.reason);
}

/**
 * Judges a list of yes-or-no looks: one `no` fails it, an automatic item's `no` at once; an item that does not apply needs a reason and must
 * be one that need not apply. Common practice.
 * @returns one finding for the stage
 * @example judgeCheck(exampleOf('anaes.machine', 'dials.1').at)[0]?.verdict // 'pass'
 */
export function judgeCheck(at: Attempted<CheckMethod>): readonly Finding[] {
  const { plan, method, record } = at;
  // Where a no ends the test at once, it is not taken back by a yes.
  const sticks = (i: CheckItem): boolean => strict(at.plan) && i.automatic === true && record.answers[i.id]?.refused === true;
  const refused = method.items.filter((i) => record.answers[i.id]?.answer === 'no' || sticks(i));
  const misused = method.items.filter((i) => mayNotSay(i, record));
  const watched = method.items.filter((i) => record.answers[i.id]?.answer === 'watch');
  const open = method.items.filter((i) => record.answers[i.id] === undefined);
  const skipped = record.endedAt === null ? null : stepsUnmet(at, record.endedAt);
  const result = (verdict: Verdict, reasons: readonly Reason[]): readonly Finding[] => [
    findingOf(
      at,
      CHECK_EDITION,
      null,
      verdict,
      reasons,
      Object.values(record.answers).map((a) => a.event),
    ),
  ];
  const sent = refused.flatMap((i): readonly Reason[] => (i.sends === undefined ? [] : [{ code: 'sendsOn', values: { to: i.sends } }]));
  if (refused.length > 0)
    return result(sent.length === refused.length ? 'undecided' : 'fail', [
      ...refused.map((i): Reason => ({
        code: 'answeredNo',
        values: { item: i.text, ...(record.answers[i.id]?.reason ? { note: record.answers[i.id]?.reason ?? '' } : {}) },
      })),
      ...sent,
      ...(refused.some((i) => i.condemns) ? [{ code: 'condemned' as const, values: {} }] : []),
    ]);
  const otherwise = method.items.flatMap((i) => {
    const given = record.answers[i.id];
    const reason = given?.answer === 'yes' || given?.answer === 'watch' ? yesUnmet(at, i, given.at) : null;
    return reason ? [reason] : [];
  });
  const contrary = otherwise.filter((r) => r.code === 'shownOtherwise' || r.code === 'gaugesDiffer');
  if (contrary.length > 0) return result('fail', contrary);
  if (otherwise.length > 0) return result('void', otherwise);
  if (skipped) return result('void', [skipped]);
  if (misused.length > 0)
    return result(
      'void',
      misused.map((i) => ({ code: 'notValid', values: { item: i.text } })),
    );
  if (open.length > 0)
    return result(
      record.endedAt === null ? 'undecided' : 'void',
      open.map((i) => ({ code: record.endedAt === null ? 'unfinished' : 'unanswered', values: { item: i.text } })),
    );
  const said = (i: CheckItem): boolean => isSaidAfterwards(at.stage.phase, shownUnmet(at, i, record.answers[i.id]?.at ?? 0));
  const unmeasured = strict(at.plan) ? method.items.filter((i) => i.shown !== undefined && (!isShown(i, at.instruments) || said(i))) : [];
  return result('pass', [
    { code: 'answeredAll', values: { items: String(method.items.length) } },
    ...watched.map((i): Reason => ({ code: 'watched', values: { item: i.text, note: record.answers[i.id]?.reason ?? '' } })),
    ...(plan.ruleSet.byFeel && method.items.some((i) => i.feels) ? [{ code: 'byFeel' as const, values: plan.ruleSet.byFeel }] : []),
    ...doubted(at, method.items),
    ...(unmeasured.length > 0 ? [{ code: 'notMeasured' as const, values: { items: unmeasured.map((i) => i.text).join('; ') } }] : []),
  ]);
}
