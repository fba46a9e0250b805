import { valueAt } from './valueAt';
import { studentQuantile } from './student';

/** Points of a decay: seconds and gauge pressures, of one length. */
export interface Points {
  readonly t: readonly number[];
  readonly p: readonly number[];
}

/** p(t) = p0·e^(−λt), with what is known of both. */
export interface DecayFit {
  readonly p0: number;
  /** 1/s */
  readonly lambda: number;
  /** Standard error of λ, 1/s. */
  readonly seLambda: number;
  readonly seP0: number;
  /** Covariance of p0 and λ. */
  readonly covariance: number;
  /** Residual variance, with n − 2 degrees of freedom. */
  readonly variance: number;
  readonly n: number;
}

/**
 * Weighted straight line through (t, ln p); weights of 1 give the plain log fit, of p² the one that suits a gauge.
 * @example logFit({ t: [0, 60, 120], p: [16, 8, 4] }, [1, 1, 1]).lambda // 0.01155245
 */
export function logFit({ t, p }: Points, weights: readonly number[]): DecayFit {
  const n = t.length;
  if (n < 3 || p.some((v) => !(v > 0))) throw new RangeError('a log fit needs three points above zero');
  const w = (i: number): number => valueAt(weights, i);
  const sum = (f: (i: number) => number): number => t.reduce((total, _, i) => total + f(i), 0);
  const x = (i: number): number => valueAt(t, i);
  const y = (i: number): number => Math.log(valueAt(p, i));
  const sw = sum(w);
  const mx = sum((i) => w(i) * x(i)) / sw;
  const my = sum((i) => w(i) * y(i)) / sw;
  // Centred sums: the raw ones lose half their digits when the times are large.
  const sxx = sum((i) => w(i) * (x(i) - mx) ** 2);
  const slope = sum((i) => w(i) * (x(i) - mx) * (y(i) - my)) / sxx;
  const variance = sum((i) => w(i) * (y(i) - my - slope * (x(i) - mx)) ** 2) / (n - 2);
  const p0 = Math.exp(my - slope * mx);
  const seLambda = Math.sqrt(variance / sxx);
  return { p0, lambda: -slope, seLambda, seP0: p0 * Math.sqrt(variance * (1 / sw + (mx * mx) / sxx)), covariance: (p0 * mx * variance) / sxx, variance, n };
}

/**
 * Weights set again from the fitted curve until they stand.
 * @example reweightedLogFit({ t: [0, 60, 120], p: [16, 8, 4.1] }).lambda // 0.01143935
 */
export function reweightedLogFit(points: Points): DecayFit {
  let fit = logFit(
    points,
    points.p.map((v) => v * v),
  );
  for (let turn = 0; turn < 50; turn++) {
    const { p0, lambda } = fit;
    const next = logFit(
      points,
      points.t.map((t) => (p0 * Math.exp(-lambda * t)) ** 2),
    );
    const settled = Math.abs(next.lambda - lambda) < 1e-13 * Math.abs(lambda) + 1e-18;
    fit = next;
    if (settled) break;
  }
  return fit;
}

/** A straight line stands in for the start where some reading is not above zero, so that the log has none. */
function start({ t, p }: Points): { p0: number; lambda: number } {
  if (p.every((v) => v > 0)) {
    const { p0, lambda } = logFit(
      { t, p },
      p.map((v) => v * v),
    );
    return { p0, lambda };
  }
  const first = Math.max(...p);
  return { p0: first, lambda: 1 / Math.max(1, valueAt(t, t.length - 1)) };
}

/**
 * Fits p0·e^(−λt) by least squares on the pressures themselves: unbiased where the noise is that of a gauge, which a fit of logarithms is not, and no
 * reading at or below zero breaks it. Gauss–Newton, halved steps.
 * Source: Seber & Wild, Nonlinear Regression; Bates & Watts; from memory.
 * @param points at least three, times in s, gauge pressures in any unit
 * @throws RangeError for fewer
 * @example fitDecay({ t: [0, 60, 120], p: [16, 8, 4.1] }).p0 // 15.98778
 */
export function fitDecay(points: Points): DecayFit {
  const { t, p } = points;
  const n = t.length;
  if (n < 3 || p.length !== n) throw new RangeError('a decay needs three points');
  let { p0, lambda } = start(points);
  const residual = (a: number, l: number): number => t.reduce((total, at, i) => total + (valueAt(p, i) - a * Math.exp(-l * at)) ** 2, 0);
  const normal = (a: number, l: number): [number, number, number, number, number] => {
    let [aa, al, ll, ra, rl] = [0, 0, 0, 0, 0];
    t.forEach((at, i) => {
      const e = Math.exp(-l * at);
      const d = -a * at * e;
      const r = valueAt(p, i) - a * e;
      aa += e * e;
      al += e * d;
      ll += d * d;
      ra += e * r;
      rl += d * r;
    });
    return [aa, al, ll, ra, rl];
  };
  for (let turn = 0; turn < 100; turn++) {
    const [aa, al, ll, ra, rl] = normal(p0, lambda);
    const det = aa * ll - al * al;
    if (!(det > 0)) break;
    const da = (ll * ra - al * rl) / det;
    const dl = (aa * rl - al * ra) / det;
    const was = residual(p0, lambda);
    let share = 1;
    while (share > 1e-6 && residual(p0 + share * da, lambda + share * dl) > was) share /= 2;
    p0 += share * da;
    lambda += share * dl;
    if (Math.abs(share * dl) <= 1e-12 * Math.abs(lambda) + 1e-18 && Math.abs(share * da) <= 1e-12 * Math.abs(p0)) break;
  }
  const [aa, al, ll] = normal(p0, lambda);
  const det = aa * ll - al * al;
  const variance = residual(p0, lambda) / Math.max(1, n - 2);
  return {
    p0,
    lambda,
    seLambda: Math.sqrt((variance * aa) / det),
    seP0: Math.sqrt((variance * ll) / det),
    covariance: (-variance * al) / det,
    variance,
    n,
  };
}

/** An interval; an end that cannot be named is Infinity. */
export interface Interval {
  readonly low: number;
  readonly high: number;
}

/**
 * Half-life of a fit, s, with its interval: λ's interval turned over, so it leans to the long side; endless where no leak can be told from none.
 * @example halfLifeOf(fitDecay({ t: [0, 60, 120, 180], p: [16, 8, 4.1, 2] })).value // 60.45091
 */
export function halfLifeOf(fit: DecayFit, confidence = 0.95): Interval & { readonly value: number } {
  const q = studentQuantile(0.5 + confidence / 2, Math.max(1, fit.n - 2)) * fit.seLambda;
  const time = (lambda: number): number => (lambda > 0 ? Math.LN2 / lambda : Number.POSITIVE_INFINITY);
  return { value: time(fit.lambda), low: time(fit.lambda + q), high: time(fit.lambda - q) };
}
