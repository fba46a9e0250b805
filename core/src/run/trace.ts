import { holdOf, ReadingList, type HoldTimes } from '../method';
import { factsOf, type Channel, type Id, type Plan } from '../procedure';
import { decimalIn, unitRow, type Unit } from '../quantity';
import { attemptedOf } from './next';
import type { RunState } from './state';

/** What a strip draws of one channel in the latest attempt at a stage. */
export interface Trace {
  readonly unit: Unit;
  /** Time on the run's clock in ms, and the value in `unit`; in order. */
  readonly points: readonly (readonly [number, number])[];
  /** Where each step was done, in order. */
  readonly marks: readonly { readonly mark: Id; readonly at: number }[];
  readonly beganAt: number;
  readonly endedAt: number | null;
  readonly hold: HoldTimes | null;
}

/** The unit that a stage is compared in: that of its first pressure limit, else the window's. */
export function stageUnit(plan: Plan, stageId: Id): Unit {
  const stage = plan.stages.find((s) => s.id === stageId);
  const limit = plan.limits.find((l) => l.stage === stageId && unitRow(l.resolved.unit)?.dimension === 'pressure');
  const start = stage && factsOf(stage.method).trace?.(stage.method).start;
  const low = start === undefined ? undefined : plan.figures[start];
  return limit?.resolved.unit ?? low?.unit ?? 'Pa';
}

/** The trace of a channel in the latest attempt at a stage, or null while there is none. */
export function stageTrace(plan: Plan, state: RunState, stageId: Id, channel: Channel): Trace | null {
  const stage = plan.stages.find((s) => s.id === stageId);
  const attempt = state.attempts[stageId]?.at(-1);
  if (!stage || !attempt || !factsOf(stage.method).trace) return null;
  const at = attemptedOf(plan, state, stage, attempt);
  const { record } = at;
  const hold = holdOf(at);
  const unit = stageUnit(plan, stageId);
  const points = (record.readings[channel] ?? ReadingList.none).map((r): readonly [number, number] => [
    r.at,
    r.unit === unit ? r.value : decimalIn(r, unit).toNumber(),
  ]);
  return { unit, points, marks: record.marks, beganAt: attempt.beganAt, endedAt: attempt.endedAt, hold };
}

/** Every so many-th point, the last one kept: for drawings too small for all of them. */
export function thinned<T>(points: readonly T[], most: number): readonly T[] {
  if (points.length <= most) return points;
  const step = (points.length - 1) / (most - 1);
  return Array.from({ length: most }, (_, i) => points[Math.round(i * step)]).filter((p) => p !== undefined);
}
