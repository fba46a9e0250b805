import { studentQuantile, valueAt } from '../fit';

/** One test: days from the first one, and the share of the allowance it used (1 is all of it). */
export interface TrendPoint {
  readonly day: number;
  readonly used: number;
}

export interface Line {
  /** Share a day. */
  readonly slope: number;
  readonly intercept: number;
}

export interface Crossing {
  /** Day on which the line reaches the whole allowance; null when it never will. */
  readonly day: number | null;
  /** Interval of that day; an end that cannot be named is null. */
  readonly low: number | null;
  readonly high: number | null;
  /** The day on which the upper one-sided 95 % prediction reaches it: plan by this one. */
  readonly earliest: number | null;
}

export interface Trend {
  readonly n: number;
  readonly line: Line & { readonly seSlope: number; readonly s: number };
  readonly robust: Line & { readonly slopeLow: number; readonly slopeHigh: number };
  readonly crossing: Crossing;
  readonly robustCrossing: number | null;
  /** Mann–Kendall's S and Z. */
  readonly kendall: { readonly s: number; readonly z: number };
  /**
   * Whether a date may be named: four tests or more, a slope that is no accident, and no further ahead than the tests reach back. Otherwise
   * only `earliest` may be said, as *not before*.
   */
  readonly dateStands: boolean;
}

const median = (sorted: readonly number[]): number => {
  const middle = sorted.length / 2;
  return Number.isInteger(middle) ? (valueAt(sorted, middle - 1) + valueAt(sorted, middle)) / 2 : valueAt(sorted, Math.floor(middle));
};
const ascending = (values: readonly number[]): number[] => [...values].sort((a, b) => a - b);

interface Sums {
  readonly n: number;
  readonly mx: number;
  readonly my: number;
  readonly sxx: number;
}

function straight(points: readonly TrendPoint[]): { line: Trend['line']; sums: Sums } {
  const n = points.length;
  const mx = points.reduce((a, p) => a + p.day, 0) / n;
  const my = points.reduce((a, p) => a + p.used, 0) / n;
  const sxx = points.reduce((a, p) => a + (p.day - mx) ** 2, 0);
  const slope = points.reduce((a, p) => a + (p.day - mx) * (p.used - my), 0) / sxx;
  const s = Math.sqrt(points.reduce((a, p) => a + (p.used - my - slope * (p.day - mx)) ** 2, 0) / Math.max(1, n - 2));
  return { line: { slope, intercept: my - slope * mx, seSlope: s / Math.sqrt(sxx), s }, sums: { n, mx, my, sxx } };
}

/** Robust line: the median of all slopes between pairs, and the median of what is left. Source: Theil 1950, Sen 1968, from memory. */
function robustLine(points: readonly TrendPoint[]): Trend['robust'] {
  const n = points.length;
  const slopes: number[] = [];
  for (let i = 0; i < n; i++)
    for (let k = i + 1; k < n; k++) {
      const [a, b] = [points[i], points[k]];
      if (a && b && a.day !== b.day) slopes.push((b.used - a.used) / (b.day - a.day));
    }
  const sorted = ascending(slopes);
  const slope = median(sorted);
  const spread = 1.959963984540054 * Math.sqrt((n * (n - 1) * (2 * n + 5)) / 18);
  // Sen's ranks need not be whole: the outer neighbour is taken, so that the interval is never too narrow.
  const rank = (r: number): number => valueAt(sorted, Math.max(1, Math.min(sorted.length, r)) - 1);
  return {
    slope,
    intercept: median(ascending(points.map((p) => p.used - slope * p.day))),
    slopeLow: rank(Math.floor((sorted.length - spread) / 2)),
    slopeHigh: rank(Math.ceil((sorted.length + spread) / 2 + 1)),
  };
}

function mannKendall(points: readonly TrendPoint[]): Trend['kendall'] {
  let s = 0;
  points.forEach((a, i) => {
    for (const b of points.slice(i + 1)) s += Math.sign(b.used - a.used);
  });
  const n = points.length;
  return { s, z: s === 0 ? 0 : (s - Math.sign(s)) / Math.sqrt((n * (n - 1) * (2 * n + 5)) / 18) };
}

/** Fieller's interval of the day on which the mean line reaches 1. Source: Draper & Smith, inverse prediction, from memory. */
function fieller(line: Trend['line'], { n, mx, my, sxx }: Sums): Pick<Crossing, 'low' | 'high'> {
  const t = studentQuantile(0.975, n - 2);
  const m = my - 1;
  const a = line.slope ** 2 - (t * line.s) ** 2 / sxx;
  if (a <= 0) return { low: null, high: null };
  const root = Math.sqrt(Math.max(0, (m * line.slope) ** 2 - a * (m * m - (t * line.s) ** 2 / n)));
  return { low: mx + (-m * line.slope - root) / a, high: mx + (-m * line.slope + root) / a };
}

function earliestDay(line: Trend['line'], { n, mx, sxx }: Sums, from: number): number | null {
  const t = studentQuantile(0.95, n - 2);
  const upper = (day: number): number => line.intercept + line.slope * day + t * line.s * Math.sqrt(1 + 1 / n + (day - mx) ** 2 / sxx);
  if (upper(from) >= 1) return from;
  let high = from + 1;
  while (upper(high) < 1) {
    high = from + (high - from) * 2;
    if (high - from > 36_525) return null; // beyond a hundred years there is nothing to plan
  }
  let low = from;
  for (let turn = 0; turn < 100; turn++) {
    const middle = (low + high) / 2;
    if (upper(middle) < 1) low = middle;
    else high = middle;
  }
  return high;
}

/**
 * How an item's use of its allowance runs over its tests. Begin a new series after a repair.
 * @param points in order of days, at least three on different days
 * @throws RangeError for fewer
 * @example trendOf([{ day: 0, used: 0.2 }, { day: 100, used: 0.3 }, { day: 200, used: 0.4 }]).line.slope // 0.001
 */
export function trendOf(points: readonly TrendPoint[]): Trend {
  if (points.length < 3 || new Set(points.map((p) => p.day)).size < 2) throw new RangeError('a trend needs three tests on different days');
  const { line, sums } = straight(points);
  const robust = robustLine(points);
  const days = points.map((p) => p.day);
  const last = valueAt(days, days.length - 1);
  const span = last - valueAt(days, 0);
  const crosses = line.slope > 0 ? (1 - line.intercept) / line.slope : null;
  const significant = line.seSlope === 0 ? line.slope > 0 : line.slope / line.seSlope > studentQuantile(0.975, points.length - 2);
  return {
    n: points.length,
    line,
    robust,
    crossing: { day: crosses, ...fieller(line, sums), earliest: earliestDay(line, sums, last) },
    robustCrossing: robust.slope > 0 ? (1 - robust.intercept) / robust.slope : null,
    kendall: mannKendall(points),
    dateStands: points.length >= 4 && significant && crosses !== null && crosses - last <= span,
  };
}

/**
 * What the next test is expected to use, with a 95 % interval for one test.
 * @example predictUse([{ day: 0, used: 0.2 }, { day: 100, used: 0.3 }, { day: 200, used: 0.4 }], 300).value // 0.5
 */
export function predictUse(points: readonly TrendPoint[], day: number): { readonly value: number; readonly low: number; readonly high: number } {
  const { line, sums } = straight(points);
  const value = line.intercept + line.slope * day;
  const half = studentQuantile(0.975, Math.max(1, sums.n - 2)) * line.s * Math.sqrt(1 + 1 / sums.n + (day - sums.mx) ** 2 / sums.sxx);
  return { value, low: value - half, high: value + half };
}
