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
  type ReadingList,
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
export function peaksKept(x: Float64Array, y: Float64Array, buckets = MOST_BUCKETS): readonly (readonly [number, number])[] {
  const point = (i: number): readonly [number, number] => [x[i] ?? 0, y[i] ?? 0];
  if (x.length <= buckets * 2) return Array.from(x, (_, i) => point(i));
  const size = x.length / buckets;
  return Array.from({ length: buckets }, (_, b) => b).flatMap((b) => {
    let low = Math.floor(b * size);
    let high = low;
    for (let i = low + 1; i < Math.floor((b + 1) * size); i += 1) {
      if ((y[i] ?? 0) < (y[low] ?? 0)) low = i;
      if ((y[i] ?? 0) > (y[high] ?? 0)) high = i;
    }
    return [point(Math.min(low, high)), point(Math.max(low, high))];
  });
}

/** Times in seconds from a moment, values in a unit, how many an instrument sent and over how many ms: columns of numbers, since there may be very many. */
function traceOf(
  part: ReadingList,
  unit: string,
  from: number,
): { readonly x: Float64Array; readonly y: Float64Array; readonly sampled: number; readonly span: number } {
  const x = new Float64Array(part.length);
  const y = new Float64Array(part.length);
  let sampled = 0;
  let first = from;
  let last = from;
  part.each((at, value, i, chunk) => {
    x[i] = (at - from) / 1000;
    y[i] = chunk.unit === unit ? value : decimalIn({ value, unit: chunk.unit }, unit).toNumber();
    if (chunk.typed) return;
    if (sampled === 0) first = at;
    last = at;
    sampled += 1;
  });
  return { x, y, sampled, span: last - first };
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
    const { x, y, sampled, span } = traceOf(all.between(from, until), unit, from);
    // The quick rise to where it gets interesting is left out of the drawing.
    const near = Math.max(
      0,
      y.findIndex((value) => value >= set * NEAR_SHARE),
    );
    const whole =
      to !== undefined && sampled >= LEAST_SAMPLES
        ? { key: `${String(k)}:${String(from)}:${String(to)}:${String(sampled)}`, values: y, fs: ((sampled - 1) / span) * 1000 }
        : null;
    return { k, state: to === undefined ? 'here' : 'done', points: peaksKept(x.subarray(near), y.subarray(near)), whole };
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
