import { milliseconds, neverCame, shownUnmet, taskOf, waiting, type Attempted, type Task } from '../method';
import { figureOf, strict, type Channel, type CheckItem, type Method, type Plan, type Reason, type Spot, type Stage, type Step } from '../procedure';
import type { Quantity } from '../quantity';
import { begunInTest, findingsOf, requiredStages } from './judge';
import { instrumentsOf, recordOf } from './stageRecord';
import { mendFor } from './stands';
import type { Attempt, RunState } from './state';

interface InStage {
  readonly stage: Stage;
  readonly attempt: number;
}

/** The one thing that comes next. A screen shows it and binds it to one key; nothing else needs to know the order of the work. */
export type Next =
  | ({ readonly kind: 'begin' } & InStage)
  | ({ readonly kind: 'answer'; readonly item: CheckItem } & InStage)
  | ({ readonly kind: 'spot'; readonly spot: Spot } & InStage)
  | ({ readonly kind: 'read'; readonly channel: Channel } & InStage)
  | ({ readonly kind: 'act'; readonly step: Step } & InStage)
  /** With `strayed` its clock stands still: what settles has left its window. With `unlike` its gauges will not show at its end what they have to, as they stand now. */
  | ({
      readonly kind: 'wait';
      readonly step: Step;
      readonly since: number;
      readonly until: number;
      readonly strayed: Reason | null;
      readonly unlike: Reason | null;
    } & InStage)
  | ({ readonly kind: 'reach'; readonly step: Step; readonly low: Quantity; readonly high: Quantity } & InStage)
  | ({ readonly kind: 'start'; readonly low: Quantity; readonly high: Quantity } & InStage)
  | ({ readonly kind: 'hold'; readonly since: number; readonly until: number } & InStage)
  | ({ readonly kind: 'end' } & InStage)
  | { readonly kind: 'seal' }
  | { readonly kind: 'closed' };

function nextStep(plan: Plan, state: RunState, stage: Stage, attempt: Attempt): Next {
  const here = { stage, attempt: attempt.attempt };
  const record = recordOf(state, attempt);
  const at = attemptedOf(plan, state, stage, attempt);
  const step = neverCame(at) ? undefined : stage.steps.find((s) => !attempt.marks.some((m) => m.mark === s.id));
  const mend = step && mendFor(plan, state, stage, step.id);
  if (mend) return { kind: 'act', step: mend, ...here };
  if (step?.kind === 'act') return { kind: 'act', step, ...here };
  if (step?.kind === 'reach') return { kind: 'reach', step, low: figureOf(plan, step.low), high: figureOf(plan, step.high), ...here };
  if (step?.kind === 'wait') {
    const { since, strayed, spoilt } = waiting(plan, stage, step, record, state.at);
    const until = since + milliseconds(figureOf(plan, step.s));
    const unlike = strict(plan) ? shownUnmet(at, step, Math.max(state.at, until)) : null;
    return { kind: 'wait', step, strayed: spoilt ?? strayed, unlike, since, until, ...here };
  }
  const task = taskNow(plan, state, stage, attempt);
  const before = task.kind === 'answer' ? mendFor(plan, state, stage, task.item.id) : null;
  return before ? { kind: 'act', step: before, ...here } : asNext(task, here);
}

/**
 * One attempt as its method looks at it.
 * @example ((r) => attemptedOf(r.plan, r.state, r.stage, r.attempt).method.kind)(exampleOf('suit.inflation', 'inflate')) // 'decay'
 */
export function attemptedOf<M extends Method>(plan: Plan, state: RunState, stage: Stage & { readonly method: M }, attempt: Attempt): Attempted<M> {
  return { plan, stage, method: stage.method, record: recordOf(state, attempt), instruments: instrumentsOf(state) };
}

/**
 * What the method of the open attempt asks for, once the steps are done.
 * @example ((r) => taskNow(r.plan, r.state, r.stage, r.attempt).kind)(exampleOf('suit.inflation', 'inflate')) // 'end'
 */
export function taskNow(plan: Plan, state: RunState, stage: Stage, attempt: Attempt): Task {
  return taskOf(attemptedOf(plan, state, stage, attempt));
}

function asNext(task: Task, here: InStage): Next {
  switch (task.kind) {
    case 'answer':
      return { kind: 'answer', item: task.item, ...here };
    case 'spot':
      return { kind: 'spot', spot: task.spot, ...here };
    case 'read':
      return { kind: 'read', channel: task.channel, ...here };
    case 'mark':
      return { kind: 'act', step: { id: task.mark, kind: 'act', text: task.text }, ...here };
    case 'start':
      return { kind: 'start', low: task.low, high: task.high, ...here };
    case 'hold':
      return { kind: 'hold', since: task.since, until: task.until, ...here };
    case 'end':
      return { kind: 'end', ...here };
  }
}

/**
 * What comes next in a run.
 * @example next(exampleOf('suit.inflation', 'inflate').plan, emptyRun).kind // 'begin'
 */
export function next(plan: Plan, state: RunState): Next {
  if (state.sealed || state.abandoned !== null) return { kind: 'closed' };
  for (const stage of requiredStages(plan, state)) {
    const last = state.attempts[stage.id]?.at(-1);
    if (!last || last.broken) return { kind: 'begin', stage, attempt: (last?.attempt ?? 0) + 1 };
    if (last.endedAt === null) return nextStep(plan, state, stage, last);
  }
  return { kind: 'seal' };
}

/** A stage that decided nothing and may be done again, and what it sent to. */
export interface SentBack {
  readonly stage: Stage;
  readonly attempt: number;
  readonly to: string;
}

/**
 * The stage that decided nothing and sent to something else, once that stands between two stages: what it sent to is looked at and mended, and it is done again. A
 * drop that no bubble accounts for is not the seat's, and no pass either. None where it is all attempted, or where nothing sent on.
 * @example ((r) => sentBack(r.plan, r.state))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function sentBack(plan: Plan, state: RunState): SentBack | null {
  const n = next(plan, state);
  if (n.kind !== 'begin' && n.kind !== 'seal') return null;
  for (const stage of plan.stages) {
    const last = state.attempts[stage.id]?.at(-1);
    // While what comes after it in the test is still to be done, that may account for it.
    if (!last || last.endedAt === null || last.attempt >= stage.attempts || (n.kind === 'begin' && n.stage.phase === 'test')) continue;
    const findings = findingsOf(plan, state, stage, last);
    const sent = findings.flatMap((f) => (f.verdict === 'undecided' ? f.reasons.filter((r) => r.code === 'sendsOn') : []))[0];
    if (sent) return { stage, attempt: last.attempt + 1, to: sent.values.to };
  }
  return null;
}

/**
 * Whether the stage that comes next may begin without a press, where items follow one another in a round: its first question or step still waits for somebody. Not what
 * puts the item to its first test, which holds it back from then on; not what is done again, or after something that did not pass.
 * @param n what `next` said
 * @example ((r) => beginsByItself(r.plan, r.state, next(r.plan, r.state)))(exampleOf('suit.inflation', 'inflate')) // false: it stands within a stage
 */
export function beginsByItself(plan: Plan, state: RunState, n: Next): boolean {
  if (n.kind !== 'begin' || n.attempt > 1 || n.stage.seeks || n.stage.decides !== undefined) return false;
  if (n.stage.phase === 'test' && !begunInTest(plan, state)) return false;
  return plan.stages.every((stage) => {
    const attempts = state.attempts[stage.id] ?? [];
    return attempts.every((a) => a.endedAt !== null && !a.broken && findingsOf(plan, state, stage, a).every((f) => f.verdict === 'pass'));
  });
}
