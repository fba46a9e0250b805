import { normalCdf, ONE_SIDED_95 } from './normal';

/**
 * The probability that the true value keeps a one-sided limit, p_c = Φ(margin ÷ u), flat prior.
 * Source: JCGM 106:2012 section 7, from memory.
 * @param margin how far the reading is on the good side of the limit (negative: beyond it)
 * @param u standard uncertainty of the reading, same unit, 0 or more
 * @example conformance(0.02, 0.01) // 0.97725
 */
export function conformance(margin: number, u: number): number {
  if (u === 0) return margin >= 0 ? 1 : 0;
  return normalCdf(margin / u);
}

/**
 * Whether even the best possible reading would leave a pass short of 95 %: the instrument is too coarse for this limit.
 * @example tooCoarse(0.02, 0.02) // true
 */
export function tooCoarse(bestMargin: number, u: number): boolean {
  return ONE_SIDED_95 * u >= bestMargin;
}

/**
 * Where the guarded rule leaves a reading: `pass` at or inside the guard band's inner edge, `fail` at or beyond the outer one, `undecided` between.
 * Source: JCGM 106:2012 section 8, from memory.
 * @example guarded(0.02, 0.01, 0.95) // 'pass'
 * @example guarded(0.01, 0.01, 0.95) // 'undecided'
 */
export function guarded(margin: number, u: number, confidence: number): 'pass' | 'fail' | 'undecided' {
  const p = conformance(margin, u);
  if (p >= confidence) return 'pass';
  return 1 - p >= confidence ? 'fail' : 'undecided';
}
