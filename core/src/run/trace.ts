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

/**
 * The unit that a stage is compared in: that of its first pressure limit, else the window's.
 * @example stageUnit(exampleOf('suit.inflation', 'inflate').plan, 'inflate') // '[in_i\'H2O]'
 */
export function stageUnit(plan: Plan, stageId: Id): Unit {
  const stage = plan.stages.find((s) => s.id === stageId);
  const limit = plan.limits.find((l) => l.stage === stageId && unitRow(l.resolved.unit)?.dimension === 'pressure');
  const start = stage && factsOf(stage.method).trace?.(stage.method).start;
  const low = start === undefined ? undefined : plan.figures[start];
  return limit?.resolved.unit ?? low?.unit ?? 'Pa';
}

/**
 * The trace of a channel in the latest attempt at a stage, or null while there is none.
 * @example stageTrace(exampleOf('suit.inflation', 'inflate').plan, emptyRun, 'inflate', 'suit') // null
 */
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

/**
 * Every so many-th point, the last one kept: for drawings too small for all of them.
 * @example thinned([1, 2, 3, 4, 5, 6, 7], 3) // [1, 4, 7]
 */
export function thinned<T>(points: readonly T[], most: number): readonly T[] {
  if (points.length <= most) return points;
  const step = (points.length - 1) / (most - 1);
  return Array.from({ length: most }, (_, i) => points[Math.round(i * step)]).filter((p) => p !== undefined);
}

export interface Box {
  readonly width: number;
  readonly height: number;
  /** Left free at the top and the bottom. */
  readonly margin: number;
}

/**
 * Points of a curve laid into a box, its corner at the top left: for the small drawings of screen and paper.
 * @param until where the right edge stands; the last point where nothing is said
 * @example inBox([[0, 4], [4, 3]], { width: 100, height: 20, margin: 0 }) // [[0, 0], [100, 20]]
 */
export function inBox(points: readonly (readonly [number, number])[], box: Box, until?: number): readonly (readonly [number, number])[] {
  const values = points.map((p) => p[1]);
  const low = Math.min(...values);
  const span = Math.max(Math.max(...values) - low, 1e-9);
  const from = points[0]?.[0] ?? 0;
  const width = Math.max((until ?? points.at(-1)?.[0] ?? 0) - from, 1e-9);
  const { height, margin } = box;
  return points.map(([x, y]) => [((x - from) / width) * box.width, height - margin - ((y - low) / span) * (height - 2 * margin)]);
}

/** Points as the path of an SVG. @example svgPath([[0, 0], [100, 20]]) // 'M0.0 0.0L100.0 20.0' */
export function svgPath(points: readonly (readonly [number, number])[]): string {
  return points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join('');
}
