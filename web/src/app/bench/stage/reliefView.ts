import {
  decimalIn,
  figureOf,
  liftMark,
  readingsOf,
  sameDimension,
  shutMark,
  unitLabel,
  type MethodOf,
  type Plan,
  type RunState,
  type Stage,
} from '@grellin/core';

/** One lift of a valve: its trace, and what is to be analysed once it is over. */
export interface LiftView {
  readonly k: number;
  readonly state: 'ahead' | 'here' | 'done';
  /** [seconds from its begin, value], thinned so that every peak stays. */
  readonly points: readonly (readonly [number, number])[];
  /** The whole trace, for the analysis; null until the lift is over, or where it is too slow to be one. */
  readonly whole: { readonly key: string; readonly values: Float64Array; readonly fs: number } | null;
}

export interface ReliefView {
  readonly unit: string;
  readonly lifts: readonly LiftView[];
  readonly set: number;
  readonly allowed: { readonly low: number; readonly high: number } | null;
  readonly low: number;
  readonly high: number;
}

/** Below this share of the set pressure nothing is drawn once it has been passed. */
const NEAR_SHARE = 0.85;
const MOST_BUCKETS = 240;
const LEAST_SAMPLES = 40;

/** The lowest and the highest of every bucket: a thinned trace must not lose the peak it is about. */
export function peaksKept(points: readonly (readonly [number, number])[], buckets = MOST_BUCKETS): readonly (readonly [number, number])[] {
  if (points.length <= buckets * 2) return points;
  const size = points.length / buckets;
  return Array.from({ length: buckets }, (_, b) => points.slice(Math.floor(b * size), Math.floor((b + 1) * size))).flatMap((part) => {
    const low = part.reduce((m, p) => (p[1] < m[1] ? p : m));
    const high = part.reduce((m, p) => (p[1] > m[1] ? p : m));
    return low[0] < high[0] ? [low, high] : [high, low];
  });
}

/** The lifts of a stage, side by side. */
export function reliefView(plan: Plan, state: RunState, stage: Stage, method: MethodOf<'relief'>, now: number): ReliefView {
  const unit = plan.procedure.channels[method.channel]?.unit ?? 'Pa';
  const set = decimalIn(figureOf(plan, method.set), unit).toNumber();
  const attempt = state.attempts[stage.id]?.at(-1);
  const mark = (id: string): number | undefined => attempt?.marks.findLast((m) => m.mark === id)?.at;
  const all = readingsOf(state, method.channel);
  const lifts = Array.from({ length: method.repeats }, (_, i): LiftView => {
    const k = i + 1;
    const from = mark(liftMark(k));
    if (from === undefined) return { k, state: 'ahead', points: [], whole: null };
    const to = mark(shutMark(k));
    const until = to ?? now;
    const first = all.findIndex((r) => r.at >= from);
    const part = first < 0 ? [] : all.slice(first, all.findLastIndex((r) => r.at <= until) + 1);
    const points = part.map((r): readonly [number, number] => [(r.at - from) / 1000, r.unit === unit ? r.value : decimalIn(r, unit).toNumber()]);
    // The quick rise to where it gets interesting is left out of the drawing.
    const near = Math.max(
      0,
      points.findIndex((p) => p[1] >= set * NEAR_SHARE),
    );
    const sampled = part.filter((r) => !r.typed);
    const span = (sampled.at(-1)?.at ?? 0) - (sampled[0]?.at ?? 0);
    const whole =
      to !== undefined && sampled.length >= LEAST_SAMPLES
        ? {
            key: `${String(k)}:${String(from)}:${String(to)}:${String(sampled.length)}`,
            values: Float64Array.from(points, (p) => p[1]),
            fs: ((sampled.length - 1) / span) * 1000,
          }
        : null;
    return { k, state: to === undefined ? 'here' : 'done', points: peaksKept(points.slice(near)), whole };
  });
  const bounds = plan.limits.filter((l) => l.stage === stage.id && l.of === 'pressure' && sameDimension(l.resolved.unit, unit));
  const at = (op: RegExp): number | undefined => {
    const found = bounds.find((l) => op.test(l.op));
    return found && decimalIn(found.resolved, unit).toNumber();
  };
  const [least, most] = [at(/>/), at(/</)];
  const values = lifts.flatMap((l) => l.points.map((p) => p[1]));
  return {
    unit: unitLabel(unit),
    lifts,
    set,
    allowed: least === undefined && most === undefined ? null : { low: least ?? -Infinity, high: most ?? Infinity },
    low: Math.min(set * 0.88, ...values),
    high: Math.max(set * 1.05, ...values, most ?? 0),
  };
}
