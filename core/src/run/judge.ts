import { judgeStage, type Finding } from '../method';
import { strict, type Id, type Plan, type Stage, type Verdict } from '../procedure';
import { asSaid } from './fold';
import { instrumentsOf, readingsOf, recordOf } from './stageRecord';
import { wrongHours } from './byNight';
import { stoodWrong } from './stands';
import type { Attempt, RunState } from './state';

export interface RunResult {
  readonly verdict: Verdict;
  /** The latest attempt of every stage that was required, in order of the plan. */
  readonly findings: readonly Finding[];
  /** Findings of attempts that a later one replaced. */
  readonly earlier: readonly Finding[];
  /** Any failed finding, in any attempt, even of a void run: the item may not be used. */
  readonly blocks: boolean;
  /** It was begun in a test stage and did not pass: what it tested is held back until a test of the kind passes. */
  readonly holds: boolean;
  /** What it tested is condemned: no later pass takes that back. */
  readonly condemns: boolean;
  readonly simulated: boolean;
}

/**
 * The findings of one attempt. An attempt broken off by another stage's beginning is unfinished.
 * @example ((r) => findingsOf(r.plan, r.state, r.stage, r.attempt)[0]?.verdict)(exampleOf('suit.inflation', 'inflate')) // 'pass'
 */
export function findingsOf(plan: Plan, state: RunState, stage: Stage, attempt: Attempt): readonly Finding[] {
  const known = attempt.endedAt === null ? undefined : judged.get(attempt);
  const of = attempt.endedAt === null ? '' : whatCame(state, attempt.endedAt);
  if (known && known.plan === plan && known.opened === state.opened && known.of === of) return known.findings;
  const record = recordOf(state, attempt);
  const findings = judgeStage(plan, stage, attempt.broken ? { ...record, endedAt: null } : record, instrumentsOf(state));
  if (attempt.endedAt !== null) judged.set(attempt, { plan, opened: state.opened, of, findings });
  return findings;
}

interface Judged {
  readonly plan: Plan;
  readonly opened: RunState['opened'];
  readonly of: string;
  readonly findings: readonly Finding[];
}

/** An ended attempt is judged once, until something of its time comes late: what hangs on it is asked for with every event. */
const judged = new WeakMap<Attempt, Judged>();

/** How much has come of everything up to a moment: nothing that has come goes away, but by a withdrawal, and that makes every attempt anew. */
function whatCame(state: RunState, until: number): string {
  const read = Object.keys(state.chunks).map((c) => `${c} ${String(readingsOf(state, c).between(Number.NEGATIVE_INFINITY, until).length)}`);
  return [...read.sort(), state.disturbances.length, state.gaps.length, state.halfTripMs].join();
}

function unfinished(stage: Stage, attempt: number): Finding {
  return {
    stage: stage.id,
    role: stage.role,
    channel: null,
    attempt,
    engine: 'run/1',
    verdict: 'undecided',
    observed: null,
    limit: null,
    allowancePercent: null,
    confidence: null,
    reasons: [{ code: 'unfinished', values: {} }],
    evidence: [],
  };
}

const isNever = (f: Finding): boolean => f.reasons.some((r) => r.code === 'neverReached' || r.code === 'neverCame');

/** Whether a stage was measured and did not keep its limit: what was never held is no question of how much. */
function isLeftOpen(plan: Plan, state: RunState, id: Id): boolean {
  const stage = plan.stages.find((s) => s.id === id);
  const last = state.attempts[id]?.at(-1);
  if (!stage || !last || last.endedAt === null || last.broken) return false;
  const found = findingsOf(plan, state, stage, last);
  return found.some((f) => f.verdict === 'fail') && found.every((f) => f.verdict !== 'void' && !isNever(f));
}

/** Whether a stage was ended and found something to fail, whatever it was. */
function hasFailed(plan: Plan, state: RunState, id: Id): boolean {
  // What another decides has not failed by itself.
  const decider = plan.stages.find((s) => s.decides === id);
  if (decider && isLeftOpen(plan, state, id)) return hasFailed(plan, state, decider.id);
  const stage = plan.stages.find((s) => s.id === id);
  const last = state.attempts[id]?.at(-1);
  if (!stage || !last || last.endedAt === null || last.broken) return false;
  return findingsOf(plan, state, stage, last).some((f) => f.verdict === 'fail');
}

/**
 * The stage whose failure ends the run, if one has: what follows it, aftercare apart, is no longer required.
 * @example ((r) => endedBy(r.plan, r.state))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function endedBy(plan: Plan, state: RunState): Id | null {
  for (const stage of plan.stages) {
    const last = state.attempts[stage.id]?.at(-1);
    if (stage.onFail !== 'endRun' || !last || last.endedAt === null || last.broken) continue;
    if (plan.stages.some((s) => s.decides === stage.id) && isLeftOpen(plan, state, stage.id)) continue;
    if (findingsOf(plan, state, stage, last).some((f) => f.verdict !== 'pass')) return stage.id;
  }
  return null;
}

/**
 * The stages that the run must still go through, given what has been found.
 * @example ((r) => requiredStages(r.plan, r.state).map((s) => s.id))(exampleOf('ba.soap-survey', 'soap')) // ['gather', 'contents', 'soap', 'aftercare']
 */
export function requiredStages(plan: Plan, state: RunState): readonly Stage[] {
  const end = endedBy(plan, state);
  const asked = plan.stages.filter(
    (s) => (s.decides === undefined || isLeftOpen(plan, state, s.decides)) && (s.seeks === undefined || s.seeks.some((id) => hasFailed(plan, state, id))),
  );
  if (end === null) return asked;
  const last = asked.findIndex((s) => s.id === end);
  return asked.filter((s, i) => i <= last || s.phase === 'aftercare' || s.seeks?.includes(end));
}

/** What another stage has decided in its place: it was measured, and its own limit is answered by the other's. */
function decided(plan: Plan, findings: readonly Finding[]): readonly Finding[] {
  const deciders = plan.stages.filter((s) => findings.some((f) => f.stage === s.id && (f.verdict === 'pass' || f.verdict === 'fail')));
  return findings.map((f) => {
    const by = f.verdict === 'fail' && !isNever(f) ? deciders.find((s) => s.decides === f.stage) : undefined;
    return by ? { ...f, verdict: 'undecided', reasons: [...f.reasons, { code: 'leftTo', values: { stage: by.title } }] } : f;
  });
}

const isDecided = (f: Finding): boolean => f.reasons.some((r) => r.code === 'leftTo');

/**
 * A series that must be done in its order: every ordered stage's last attempt must begin after the one before it ended. One done out of its turn makes
 * the run void, whatever it found.
 */
function outOfOrder(plan: Plan, state: RunState): readonly Finding[] {
  const { order, strict } = plan.ruleSet;
  if (!strict || order === 'free') return [];
  let endedAt = Number.NEGATIVE_INFINITY;
  for (const id of order) {
    const stage = plan.stages.find((s) => s.id === id);
    const last = state.attempts[id]?.at(-1);
    if (!stage || !last) continue;
    if (last.beganAt < endedAt)
      return [{ ...unfinished(stage, last.attempt), verdict: 'void', reasons: [{ code: 'outOfOrder', values: { step: stage.title } }] }];
    endedAt = last.endedAt ?? last.beganAt;
  }
  return [];
}

/** What was found to fail before something that it stood on was taken back, where it is found no more. It is no pass, and the item is not used on it. */
function failedAtFirst(plan: Plan, state: RunState, findings: readonly Finding[], earlier: readonly Finding[]): readonly Finding[] {
  if (state.withdrawn.size === 0) return [];
  const said = asSaid(state);
  const now = new Set([...findings, ...earlier].filter((f) => f.verdict === 'fail' || isDecided(f)).map((f) => f.stage));
  return plan.stages.flatMap((stage) => {
    const failed = (said.attempts[stage.id] ?? []).find((attempt) => findingsOf(plan, said, stage, attempt).some((f) => f.verdict === 'fail'));
    return failed && !now.has(stage.id)
      ? [{ ...unfinished(stage, failed.attempt), reasons: [{ code: 'takenBack' as const, values: { stage: stage.title } }] }]
      : [];
  });
}

/**
 * What never came is the item's own only where the rig holds by itself: without its proof nobody can tell.
 */
function provedRig(plan: Plan, findings: readonly Finding[]): readonly Finding[] {
  const rigs = new Set(plan.stages.filter((s) => s.phase === 'rig').map((s) => s.id));
  const proved = findings.every((f) => !rigs.has(f.stage) || f.verdict === 'pass');
  return proved || !strict(plan) ? findings : findings.map((f) => (f.verdict === 'fail' && isNever(f) ? { ...f, verdict: 'undecided' } : f));
}

/**
 * Whether an item was put to its test in a run: a run broken off before that changes nothing, one broken off after it holds the item back.
 * @example ((r) => begunInTest(r.plan, r.state))(exampleOf('suit.inflation', 'inflate')) // true
 */
export function begunInTest(plan: Plan, state: RunState): boolean {
  return plan.stages.some((s) => s.phase === 'test' && (state.attempts[s.id]?.length ?? 0) > 0);
}

function worst(verdicts: readonly Verdict[]): Verdict {
  for (const v of ['void', 'fail', 'undecided'] as const) if (verdicts.includes(v)) return v;
  return 'pass';
}

/**
 * Computes the findings and the verdict of a run: `void` if a required stage is void, else `fail`, `undecided`, `pass`. No verdict is ever
 * typed in, and findings do not depend on how the sources interleaved.
 * @example ((r) => judge(r.plan, r.state).verdict)(exampleOf('suit.inflation', 'inflate')) // 'pass'
 */
export function judge(plan: Plan, state: RunState): RunResult {
  const findings: Finding[] = [];
  const earlier: Finding[] = [];
  for (const stage of requiredStages(plan, state)) {
    const attempts = state.attempts[stage.id] ?? [];
    const last = attempts.at(-1);
    if (last) findings.push(...findingsOf(plan, state, stage, last));
    else findings.push(unfinished(stage, 1));
    for (const attempt of attempts.slice(0, -1)) earlier.push(...findingsOf(plan, state, stage, attempt));
  }
  findings.push(...outOfOrder(plan, state));
  const wrong = [...stoodWrong(plan, state), ...wrongHours(plan, state)];
  findings.push(...wrong.map((s): Finding => ({ ...unfinished(s.stage, s.attempt), verdict: 'void', reasons: [s.reason] })));
  findings.splice(0, findings.length, ...decided(plan, provedRig(plan, findings)));
  const failed = (f: Finding): boolean => f.verdict === 'fail';
  const seen = strict(plan) ? failedAtFirst(plan, state, findings, earlier) : [];
  findings.push(...seen);
  // An attempt that failed stays in the verdict: what is mended is tested again in a run of its own.
  const spoilt = strict(plan) && earlier.some(failed);
  const seeking = new Set(plan.stages.filter((s) => s.seeks).map((s) => s.id));
  const found = worst([...findings.filter((f) => !isDecided(f) && !seeking.has(f.stage)).map((f) => f.verdict), ...(spoilt ? ['fail' as const] : [])]);
  // What was abandoned released nothing, however much of it had been done.
  const verdict = found === 'pass' && state.abandoned !== null ? 'undecided' : found;
  const all = [...findings, ...earlier];
  return {
    verdict,
    findings,
    earlier,
    blocks: all.some(failed) || seen.length > 0,
    holds: verdict !== 'pass' && begunInTest(plan, state),
    condemns: all.some((f) => failed(f) && f.reasons.some((r) => r.code === 'condemned')),
    simulated: state.opened?.clock === 'simulated',
  };
}

/**
 * The verdict in the trade's word: a suit is tight or leaks.
 * @example verdictWord(exampleOf('suit.inflation', 'inflate').plan, 'fail') // 'leaks'
 */
export function verdictWord(plan: Pick<Plan, 'procedure' | 'ruleSet'>, verdict: Verdict): string {
  const words = plan.procedure.verdictWords;
  // A hand that felt nothing is not a gauge that showed nothing: the word says which it was.
  return { pass: plan.ruleSet.byFeel ? `${words.pass}, by feel` : words.pass, fail: words.fail, undecided: 'cannot tell', void: 'void' }[verdict];
}

const verbs: ReadonlySet<string> = new Set(['passes', 'fails', 'leaks']);

/**
 * The verdict on an item as a sentence.
 * @example verdictSentence('GS-01', 'pass', 'tight') // 'GS-01 is tight'
 * @example verdictSentence('CY-01', 'fail', 'condemned') // 'CY-01 is condemned'
 */
export function verdictSentence(tag: string, verdict: Verdict, word: string): string {
  if (verdict === 'void' || verdict === 'undecided') return `${tag}: ${word}`;
  return verbs.has(word) ? `${tag} ${word}` : `${tag} is ${word}`;
}
