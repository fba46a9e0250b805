/** What an instrument contributes to the uncertainty of what is read from it. All in one unit of pressure. */
export interface GaugeFigures {
  /** Limits of error ±a over the scale, rectangular (GUM 4.3.7). */
  readonly accuracy: number;
  /** The smallest step that is read. */
  readonly resolution: number;
  /** Correlation of the scale errors of two nearby readings, 0 to 1. Zero without evidence, so that a pass is the harder one. */
  readonly correlation: number;
  /** Standard deviation of single readings as they scattered in the test itself; left out where one reading stands alone. */
  readonly repeatability?: number;
}

/** Things that move the loss besides the gauge; zero where nothing is known. Same unit as the gauge. */
export interface OtherTerms {
  readonly temperature: number;
  readonly barometer: number;
  /** Standard uncertainty of the time over which the loss was taken, as a fraction of it. */
  readonly timing: number;
}

const scale = (g: GaugeFigures): number => g.accuracy / Math.sqrt(3);
/** What moves a single reading: its step, or its scatter where that was seen and is more. The scatter has the step in it (GUM F.2.2.1, note to H.6). */
const step = (g: GaugeFigures): number => Math.max(g.resolution / Math.sqrt(12), g.repeatability ?? 0);

/**
 * Standard uncertainty of one reading: u² = a²/3 + max(d²/12, s²).
 * Source: JCGM 100:2008 (GUM) 4.3.7 and F.2.2.1, from memory.
 * @example uncertaintyOfReading({ accuracy: 0.16, resolution: 0.1, correlation: 0 }) // 0.096782
 */
export function uncertaintyOfReading(g: GaugeFigures): number {
  return Math.hypot(scale(g), step(g));
}

/**
 * Standard uncertainty of a loss, the difference of two readings of one gauge:
 * u² = 2·u_a²·(1 − r) + 2·u_d² + u_T² + u_b² + (y·u_t/t)².
 * Source: GUM 5.2.2 with the correlation stated, from memory.
 * @param loss the loss itself, for the timing term
 * @example uncertaintyOfLoss({ accuracy: 2.4, resolution: 1, correlation: 0 }, 1) // 2.001666
 */
export function uncertaintyOfLoss(g: GaugeFigures, loss: number, other: OtherTerms = { temperature: 0, barometer: 0, timing: 0 }): number {
  const gauge = 2 * scale(g) ** 2 * (1 - g.correlation) + 2 * step(g) ** 2;
  return Math.sqrt(gauge + other.temperature ** 2 + other.barometer ** 2 + (loss * other.timing) ** 2);
}

/**
 * Standard uncertainty of end ÷ start, both read on one gauge.
 * u² = (u_e² + q²·u_s² − 2·q·cov)/start², with q the ratio and cov the shared part of the scale error.
 * @example uncertaintyOfRatio({ accuracy: 0, resolution: 0.01, correlation: 0 }, 2, 1.6) // 0.001848…
 */
export function uncertaintyOfRatio(g: GaugeFigures, start: number, end: number): number {
  const q = end / start;
  const one = scale(g) ** 2 + step(g) ** 2;
  const shared = g.correlation * scale(g) ** 2;
  return Math.sqrt(Math.max(0, one * (1 + q * q) - 2 * q * shared)) / Math.abs(start);
}
