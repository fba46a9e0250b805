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
  readonly whole: { readonly key: string; readonly values: () => Float64Array; readonly fs: number } | null;
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
/** A trace of more values than this is drawn from its peaks. */
const LONG = 10_000;

/** Visits every point of a trace, in order. */
export type Points = (visit: (x: number, y: number) => void) => void;

/** The lowest and the highest of every bucket: a thinned trace must not lose the peak it is about. Nothing is made but what is drawn: a trace may be long. */
export function peaksKept(points: Points, count: number, buckets = MOST_BUCKETS): readonly (readonly [number, number])[] {
  type Point = readonly [number, number];
  const all = count <= buckets * 2;
  const made: Point[] = [];
  let bucket = 0;
  let low: Point | null = null;
  let high: Point | null = null;
  const close = (): void => {
    if (low && high) made.push(...(low[0] < high[0] ? [low, high] : low[0] > high[0] ? [high, low] : [low]));
    low = high = null;
  };
  let i = -1;
  points((x, y) => {
    i += 1;
    if (all) {
      made.push([x, y]);
      return;
    }
    const mine = Math.floor((i * buckets) / count);
    if (mine !== bucket) close();
    bucket = mine;
    if (!low || y < low[1]) low = [x, y];
    if (!high || y > high[1]) high = [x, y];
  });
  close();
  return made;
}

/** A value in a unit; a trace mostly comes in the one that it is drawn in. */
const valueIn = (value: number, from: string, to: string): number => (from === to ? value : decimalIn({ value, unit: from }, to).toNumber());

/** What is drawn of a lift: from where it gets interesting, the quick rise before that left out. Of a long one only the peaks of its pieces are looked at. */
function drawnOf(part: ReadingList, unit: string, from: number, set: number): LiftView['points'] {
  const near = set * NEAR_SHARE;
  const long = part.length > LONG;
  const points: Points = (visit) => {
    let begun = false;
    const one = (at: number, value: number, of: string): void => {
      const y = valueIn(value, of, unit);
      begun ||= y >= near;
      if (begun) visit((at - from) / 1000, y);
    };
    if (!long) part.each((at, value, _, chunk) => one(at, value, chunk.unit));
    else
      part.eachPeak((low, high) => {
        for (const p of low.at < high.at ? [low, high] : [high, low]) one(p.at, p.value, p.chunk.unit);
      });
  };
  let count = 0;
  points(() => (count += 1));
  // Before it comes near there is nothing to leave out.
  if (count > 0) return peaksKept(points, count);
  let all = 0;
  const every: Points = (visit) => part.eachPeak((low) => visit((low.at - from) / 1000, valueIn(low.value, low.chunk.unit, unit)));
  every(() => (all += 1));
  return peaksKept(every, all);
}

/** A lift that is over, for the analysis; null where it is too slow to be a trace. */
function wholeOf(part: ReadingList, unit: string, key: string): LiftView['whole'] {
  let sampled = 0;
  let first = 0;
  let last = 0;
  part.each((at, _value, _i, chunk) => {
    if (chunk.typed) return;
    if (sampled === 0) first = at;
    last = at;
    sampled += 1;
  });
  if (sampled < LEAST_SAMPLES) return null;
  const values = (): Float64Array => {
    const list = new Float64Array(part.length);
    part.each((_, value, i, chunk) => (list[i] = valueIn(value, chunk.unit, unit)));
    return list;
  };
  return { key: `${key}:${String(sampled)}`, values, fs: ((sampled - 1) / (last - first)) * 1000 };
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
    const part = all.between(from, until);
    const whole = to === undefined ? null : wholeOf(part, unit, `${String(k)}:${String(from)}:${String(to)}`);
    return { k, state: to === undefined ? 'here' : 'done', points: drawnOf(part, unit, from, set), whole };
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
