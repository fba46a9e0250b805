import { figureOf, type Channel, type Id, type Plan, type Stage, type Step, type Reason } from '../../procedure';
import { decimalIn, type Quantity } from '../../quantity';
import { readingsOn } from './readings';
import type { Reading } from './reading';
import type { StageRecord } from './record';

/** The mark that starts a hold: the start is read at this moment. */
export const START = 'start';

/** A reading older than this no longer shows where the needle stands. Common practice: read, then act within the minute. */
export const STALE_MS = 60_000;

/**
 * @example milliseconds({ value: 6, unit: 'min' }) // 360000
 */
export function milliseconds(q: Quantity): number {
  return decimalIn(q, 'ms').toNumber();
}

/**
 * The newest reading at or before a moment, if it is fresh enough to stand for that moment.
 * @example ((r) => readingAt(r.record, 'suit', r.attempt.endedAt)?.unit)(exampleOf('suit.inflation', 'inflate')) // 'mbar'
 */
export function readingAt(record: StageRecord, channel: Channel, at: number): Reading | undefined {
  const found = readingsOn(record, channel).lastUpTo(at);
  return found && at - found.at <= STALE_MS ? found : undefined;
}

/**
 * @example markAt(exampleOf('suit.inflation', 'inflate').record, 'nothing') // undefined
 */
export function markAt(record: StageRecord, mark: Id): number | undefined {
  return record.marks.find((m) => m.mark === mark)?.at;
}

/**
 * Where a step's waiting began: when the step before it was done, or the attempt began.
 * @example ((r) => waitingSince(r.stage, r.stage.steps[0], r.record) === r.attempt.beganAt)(exampleOf('suit.inflation', 'inflate')) // true
 */
export function waitingSince(stage: Stage, step: Step, record: StageRecord): number {
  const before = stage.steps[stage.steps.indexOf(step) - 1];
  return (before && markAt(record, before.id)) ?? record.beganAt;
}

function outside(reading: Reading, low: Quantity, high: Quantity): boolean {
  return decimalIn(reading, low.unit).lt(low.value) || decimalIn(reading, high.unit).gt(high.value);
}

/**
 * Why a channel does not stand in a window at a moment; null when it does.
 * @example windowUnmet('notReached', exampleOf('suit.inflation', 'inflate').record, 'nothing', { value: 1, unit: 'mbar' }, { value: 2, unit: 'mbar' }, 0)?.code // 'noReading'
 */
export function windowUnmet(
  code: 'notReached' | 'startOutside',
  record: StageRecord,
  channel: Channel,
  low: Quantity,
  high: Quantity,
  at: number,
): Reason | null {
  const reading = readingAt(record, channel, at);
  if (!reading) return { code: 'noReading', values: { channel } };
  return outside(reading, low, high) ? { code, values: { value: { value: reading.value, unit: reading.unit }, low, high } } : null;
}

/**
 * Why a step may not be called done at a moment; null when it may. `may` asks this before a mark is written and the methods ask it again
 * of the history, so that a file that nobody asked about is judged by the same rule.
 * @example ((r) => stepUnmet(r.plan, r.stage, { id: 'x', kind: 'act', text: 'Do it' }, r.record, 0))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function stepUnmet(plan: Plan, stage: Stage, step: Step, record: StageRecord, at: number): Reason | null {
  if (step.kind === 'act') return null;
  if (step.kind === 'reach') return windowUnmet('notReached', record, step.channel, figureOf(plan, step.low), figureOf(plan, step.high), at);
  const wanted = figureOf(plan, step.s);
  const waited = at - waitingSince(stage, step, record);
  return waited < milliseconds(wanted) ? { code: 'waitShort', values: { waited: { value: waited / 1000, unit: 's' }, wanted } } : null;
}

/**
 * Why the steps of a stage are not all done by the rule; null when they are.
 * @example ((r) => stepsUnmet(r.plan, r.stage, r.record))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function stepsUnmet(plan: Plan, stage: Stage, record: StageRecord): Reason | null {
  for (const step of stage.steps) {
    const done = markAt(record, step.id);
    if (done === undefined) return { code: 'stepSkipped', values: { step: step.text } };
    const unmet = stepUnmet(plan, stage, step, record, done);
    if (unmet) return unmet;
  }
  return null;
}
