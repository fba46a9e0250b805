import { regularisedBeta } from './beta';

/**
 * Distribution function of Student's t.
 * Source: Abramowitz & Stegun 26.7.1, by way of the regularised incomplete beta function.
 * @example studentCdf(2.144787, 14) // 0.975
 */
export function studentCdf(t: number, degrees: number): number {
  const tail = 0.5 * regularisedBeta(degrees / (degrees + t * t), degrees / 2, 0.5);
  return t >= 0 ? 1 - tail : tail;
}

/**
 * Quantile of Student's t, by bisection: slow, and it cannot miss.
 * @param p probability, between 0 and 1
 * @param degrees degrees of freedom, 1 or more
 * @throws RangeError outside those
 * @example studentQuantile(0.975, 14) // 2.144787
 */
export function studentQuantile(p: number, degrees: number): number {
  if (!(p > 0 && p < 1 && degrees >= 1)) throw new RangeError('a quantile needs 0 < p < 1 and a degree of freedom');
  let low = -1;
  let high = 1;
  while (studentCdf(low, degrees) > p) low *= 2;
  while (studentCdf(high, degrees) < p) high *= 2;
  for (let turn = 0; turn < 200 && high - low > 1e-13 * Math.max(1, Math.abs(low)); turn++) {
    const middle = (low + high) / 2;
    if (studentCdf(middle, degrees) < p) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/**
 * Upper tail of the F distribution: the probability of a ratio at least this large.
 * @example fTail(4.6, 2, 14) // 0.02913938
 */
export function fTail(f: number, between: number, within: number): number {
  return regularisedBeta(within / (within + between * f), within / 2, between / 2);
}
