import type { DecayFit, Interval } from './decayFit';
import { studentCdf, studentQuantile } from './student';

export interface Prediction {
  /** Expected pressure at the end, in the unit of the fit. */
  readonly value: number;
  /** Standard error of the curve there. */
  readonly se: number;
  /** Where the curve lies. */
  readonly curve: Interval;
  /** Where a reading will lie. */
  readonly reading: Interval;
}

function seAt(fit: DecayFit, seconds: number): number {
  const e = Math.exp(-fit.lambda * seconds);
  const d = -fit.p0 * seconds * e;
  return Math.sqrt(Math.max(0, e * e * fit.seP0 ** 2 + 2 * e * d * fit.covariance + d * d * fit.seLambda ** 2));
}

/**
 * Where a decay will stand at a later time, with intervals. Settling, drift of temperature and the gauge's own error are not in it.
 * Source: Seber & Wild, from memory.
 * @param seconds on the fit's clock
 * @example predict(fitDecay({ t: [0, 60, 120, 180], p: [16, 8, 4.1, 2] }), 240).value // 1.020415
 */
export function predict(fit: DecayFit, seconds: number, confidence = 0.95): Prediction {
  const value = fit.p0 * Math.exp(-fit.lambda * seconds);
  const se = seAt(fit, seconds);
  const t = studentQuantile(0.5 + confidence / 2, Math.max(1, fit.n - 2));
  const reading = Math.sqrt(se * se + fit.variance);
  const around = (half: number): Interval => ({ low: value - half, high: value + half });
  return { value, se, curve: around(t * se), reading: around(t * reading) };
}

/**
 * Probability that the end reading will be at or above a limit.
 * @example chanceAtLeast(fitDecay({ t: [0, 60, 120, 180], p: [16, 8, 4.1, 2] }), 240, 0.5) // 0.9939292
 */
export function chanceAtLeast(fit: DecayFit, seconds: number, limit: number): number {
  const { value, se } = predict(fit, seconds);
  const spread = Math.sqrt(se * se + fit.variance);
  if (spread === 0) return value >= limit ? 1 : 0;
  return studentCdf((value - limit) / spread, Math.max(1, fit.n - 2));
}
