import { figureOf, type Channel, type Id, type Plan, type Stage, type Step, type Reason } from '../../procedure';
import { decimalIn, type Quantity } from '../../quantity';
import { readingsOn } from './readings';
import type { Reading } from './reading';
import type { StageRecord } from './record';

/** The mark that starts a hold: the start is read at this moment. */
export const START = 'start';

/** A reading older than this no longer shows where the needle stands. Common practice: read, then act within the minute. */
export const STALE_MS = 60_000;

export function milliseconds(q: Quantity): number {
  return decimalIn(q, 'ms').toNumber();
}

/** The newest reading at or before a moment, if it is fresh enough to stand for that moment. */
export function readingAt(record: StageRecord, channel: Channel, at: number): Reading | undefined {
  const found = readingsOn(record, channel).lastUpTo(at);
  return found && at - found.at <= STALE_MS ? found : undefined;
}

export function markAt(record: StageRecord, mark: Id): number | undefined {
  return record.marks.find((m) => m.mark === mark)?.at;
}

/** Where a step's waiting began: when the step before it was done, or the attempt began. */
export function waitingSince(stage: Stage, step: Step, record: StageRecord): number {
  const before = stage.steps[stage.steps.indexOf(step) - 1];
  return (before && markAt(record, before.id)) ?? record.beganAt;
}

function outside(reading: Reading, low: Quantity, high: Quantity): boolean {
  return decimalIn(reading, low.unit).lt(low.value) || decimalIn(reading, high.unit).gt(high.value);
}

/** Why a channel does not stand in a window at a moment; null when it does. */
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
 */
export function stepUnmet(plan: Plan, stage: Stage, step: Step, record: StageRecord, at: number): Reason | null {
  if (step.kind === 'act') return null;
  if (step.kind === 'reach') return windowUnmet('notReached', record, step.channel, figureOf(plan, step.low), figureOf(plan, step.high), at);
  const wanted = figureOf(plan, step.s);
  const waited = at - waitingSince(stage, step, record);
  return waited < milliseconds(wanted) ? { code: 'waitShort', values: { waited: { value: waited / 1000, unit: 's' }, wanted } } : null;
}

/** Why the steps of a stage are not all done by the rule; null when they are. */
export function stepsUnmet(plan: Plan, stage: Stage, record: StageRecord): Reason | null {
  for (const step of stage.steps) {
    const done = markAt(record, step.id);
    if (done === undefined) return { code: 'stepSkipped', values: { step: step.text } };
    const unmet = stepUnmet(plan, stage, step, record, done);
    if (unmet) return unmet;
  }
  return null;
}
