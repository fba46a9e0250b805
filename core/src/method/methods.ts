import type { Finding } from './verdict/finding';
import { itemsOf, type CheckItem, type Id, type Method, type MethodKind, type MethodOf, type Plan, type Words } from '../procedure';
import type { Attempted } from './evidence/attempted';
import { CHECK_EDITION, checkTask, judgeCheck } from './check';
import { DECAY_EDITION, decayHold, decayTask, judgeDecay } from './decay/decay';
import type { HoldTimes } from './decay/hold';
import { ELAPSED_EDITION, elapsedTask, judgeElapsed } from './elapsed';
import { EVENT_PRESSURE_EDITION, eventPressureTask, judgeEventPressure } from './eventPressure';
import { EXPANSION_EDITION, expansionTask, judgeExpansion } from './expansion';
import { HALF_LIFE_EDITION, halfLifeTask, judgeHalfLife } from './halfLife';
import { judgeMakeUpFlow, MAKE_UP_FLOW_EDITION, makeUpFlowTask } from './makeUpFlow';
import { judgeRelief, RELIEF_EDITION, reliefTask } from './relief';
import { judgeStroke, STROKE_EDITION, strokeTask } from './stroke';
import { judgeSurvey, SURVEY_EDITION, surveyTask } from './survey';
import { condemningAsked, confirmationsOf } from './verdict/condemning';
import { neverCame, setUpAsked } from './evidence/never';
import type { Task } from './evidence/task';

/** What every method offers: what it asks for next, and what it finds. */
interface MethodModule<M extends Method> {
  readonly edition: Words;
  readonly task: (at: Attempted<M>) => Task;
  readonly judge: (at: Attempted<M>) => readonly Finding[];
  /** Where its hold stands on the run's clock, where it has one of a known length. */
  readonly hold?: (at: Attempted<M>) => HoldTimes | null;
}

/** All methods by kind: the one place that knows them apart. */
const methods: { readonly [K in MethodKind]: MethodModule<MethodOf<K>> } = {
  decay: { edition: DECAY_EDITION, task: decayTask, judge: judgeDecay, hold: decayHold },
  halfLife: { edition: HALF_LIFE_EDITION, task: halfLifeTask, judge: judgeHalfLife },
  makeUpFlow: { edition: MAKE_UP_FLOW_EDITION, task: makeUpFlowTask, judge: judgeMakeUpFlow },
  eventPressure: { edition: EVENT_PRESSURE_EDITION, task: eventPressureTask, judge: judgeEventPressure },
  elapsed: { edition: ELAPSED_EDITION, task: elapsedTask, judge: judgeElapsed },
  expansion: { edition: EXPANSION_EDITION, task: expansionTask, judge: judgeExpansion },
  relief: { edition: RELIEF_EDITION, task: reliefTask, judge: judgeRelief },
  survey: { edition: SURVEY_EDITION, task: surveyTask, judge: judgeSurvey },
  stroke: { edition: STROKE_EDITION, task: strokeTask, judge: judgeStroke },
  check: { edition: CHECK_EDITION, task: checkTask, judge: judgeCheck },
};

/** @returns the method of an attempt; the table is keyed by the kind, so what it holds there takes that kind. */
function moduleOf(at: Attempted): MethodModule<Method> {
  return methods[at.method.kind] as MethodModule<Method>;
}

/**
 * What the method of a stage asks for next, once its steps are done.
 * @example taskOf(exampleOf('suit.inflation', 'inflate').at).kind // 'end'
 */
export function taskOf(at: Attempted): Task {
  const task: Task = neverCame(at) ? { kind: 'end' } : methodTask(at);
  const item = task.kind === 'end' ? questionsOf(at).find((i) => at.record.answers[i.id] === undefined) : undefined;
  return item ? { kind: 'answer', item } : task;
}

/**
 * What is asked of an attempt besides what its method asks for: what it means that something never came, and whether what condemns is so.
 * @example questionsOf(exampleOf('suit.inflation', 'inflate').at) // []
 */
export function questionsOf(at: Attempted): readonly CheckItem[] {
  if (neverCame(at)) return setUpAsked(at.plan);
  const ended = { ...at, record: { ...at.record, endedAt: at.record.endedAt ?? Number.MAX_SAFE_INTEGER } };
  return confirmationsOf(at, () => (methodTask(at).kind === 'end' ? findingsBy(ended) : []));
}

/**
 * Anything that a run of this plan can be asked, by its id: its own items, and what the program asks of itself.
 * @example askedItem(exampleOf('suit.inflation', 'inflate').plan, 'never-supply')?.id // 'never-supply'
 */
export function askedItem(plan: Plan, id: Id): CheckItem | undefined {
  const all = [...plan.stages.flatMap((s) => [...itemsOf(s.method), ...condemningAsked(s.method)]), ...setUpAsked(plan)];
  return all.find((i) => i.id === id);
}

/**
 * What the method itself asks for, whatever else was said of the attempt.
 * @example methodTask(exampleOf('suit.inflation', 'inflate').at).kind // 'end'
 */
export function methodTask(at: Attempted): Task {
  return moduleOf(at).task(at);
}

/**
 * What the method of a stage finds in an attempt.
 * @example findingsBy(exampleOf('suit.inflation', 'inflate').at)[0]?.verdict // 'pass'
 */
export function findingsBy(at: Attempted): readonly Finding[] {
  return moduleOf(at).judge(at);
}

/**
 * Where the hold of an attempt stands; null while it has not started, and where its method has none of a known length.
 * @example holdOf(exampleOf('ba.soap-survey', 'soap').at) // null
 */
export function holdOf(at: Attempted): HoldTimes | null {
  return moduleOf(at).hold?.(at) ?? null;
}

export const methodEditions: readonly Words[] = Object.values(methods).map((m) => m.edition);
