import { limitedChannels, type Plan, type Words } from '../procedure';
import { decimalIn, sameDimension, showQuantity, type Unit } from '../quantity';
import { attemptedOf } from './next';
import type { RunState } from './state';
import { holdOf } from '../method';
import { stageUnit, thinned } from './trace';

/** What a gauge went through in a stage, as a record draws it. */
export interface Curve {
  readonly title: Words;
  readonly unit: Unit;
  /** Minutes from where it begins, and the value in `unit`. */
  readonly points: readonly (readonly [number, number])[];
}

/**
 * A curve's ends in words.
 * @example curveInWords({ title: 'Hold', unit: 'mbar', points: [[0, 17], [6, 16.4]] }) // '17 mbar → 16.4 mbar in 6 min'
 */
export function curveInWords({ unit, points }: Curve): string {
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last) return '';
  const shown = (value: number): string => showQuantity({ value: Number(value.toPrecision(4)), unit });
  return `${shown(first[1])} → ${shown(last[1])} in ${showQuantity({ value: Number((last[0] - Math.min(0, first[0])).toPrecision(2)), unit: 'min' })}`;
}

/** Points of a curve on paper. */
const MOST_POINTS = 120;
/** Fewer are told in figures. */
const LEAST_POINTS = 5;
/** What lies just beside a hold belongs to it, ms. */
const [BEFORE, AFTER] = [1000, 2000];

/**
 * The curves of a run, one for each stage of the test that was read often enough to draw one: a hold from its start to its end, anything else from the beginning
 * of its last attempt: the fall of a store to half, each lift of a valve.
 * @example curvesOf(exampleOf('suit.inflation', 'inflate').plan, emptyRun) // []
 */
export function curvesOf(plan: Plan, state: RunState): readonly Curve[] {
  return plan.stages.flatMap((stage): readonly Curve[] => {
    const attempt = state.attempts[stage.id]?.at(-1);
    const [channel] = limitedChannels(stage.method);
    const row = channel === undefined ? undefined : plan.procedure.channels[channel];
    if (stage.phase !== 'test' || !attempt || channel === undefined || !row) return [];
    const at = attemptedOf(plan, state, stage, attempt);
    const hold = holdOf(at);
    const from = hold ? hold.startAt - BEFORE : attempt.beganAt;
    const until = hold ? hold.until + AFTER : (attempt.endedAt ?? Number.POSITIVE_INFINITY);
    const limited = stageUnit(plan, stage.id);
    const unit = sameDimension(limited, row.unit) ? limited : row.unit;
    const read = [...(at.record.readings[channel] ?? [])].filter((r) => r.at >= from && r.at <= until);
    if (read.length < LEAST_POINTS) return [];
    const zero = hold?.startAt ?? read[0]?.at ?? 0;
    const points = thinned(read, MOST_POINTS).map((r) => [(r.at - zero) / 60_000, r.unit === unit ? r.value : decimalIn(r, unit).toNumber()] as const);
    return [{ title: stage.title, unit, points }];
  });
}
