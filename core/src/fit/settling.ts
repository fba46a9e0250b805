import { valueAt } from './valueAt';
import { ONE_SIDED_95 } from '../uncertainty';
import { fitDecay, logFit, type Points } from './decayFit';
import { leastSquares, type Model } from './leastSquares';
import { fTail } from './student';

/** A leak with something that still settles on top of it: A·e^(−λt) + B·e^(−μt), μ the quicker. */
export interface SettlingFit {
  readonly leak: { readonly amplitude: number; readonly lambda: number };
  readonly settling: { readonly amplitude: number; readonly mu: number };
  readonly squares: number;
  /** F of the quick term against a single decay, and the probability of as much by chance. */
  readonly f: number;
  readonly chance: number;
  readonly standardErrors: readonly number[];
}

const twoDecays: Model = {
  value: (t, [a = 0, l = 0, b = 0, m = 0]) => a * Math.exp(-l * t) + b * Math.exp(-m * t),
  slopes: (t, [a = 0, l = 0, b = 0, m = 0]) => {
    const slow = Math.exp(-l * t);
    const quick = Math.exp(-m * t);
    return [slow, -a * t * slow, quick, -b * t * quick];
  },
};

/**
 * Fits a leak and a settling together.
 * Source: Seber & Wild, Nonlinear Regression, from memory.
 * @param points at least six
 * @returns null when there is no telling the two apart
 * @example fitSettling({ t: [0, 10, 20, 30, 40, 50, 60, 70], p: [11, 10.3678, 10.1352, 10.0495, 10.018, 10.0064, 10.002, 10] })?.settling.mu // 0.1000662
 */
export function fitSettling(points: Points): SettlingFit | null {
  const { t, p } = points;
  if (t.length < 6) return null;
  const single = fitDecay(points);
  const singleSquares = single.variance * (single.n - 2);
  const half = Math.floor(t.length / 2);
  const late = fitDecay({ t: t.slice(half), p: p.slice(half) });
  const over = valueAt(p, 0) - late.p0;
  let best: ReturnType<typeof leastSquares> = null;
  for (const share of [0.05, 0.1, 0.2]) {
    const begin = [late.p0, late.lambda, over, 1 / (share * (t.at(-1) ?? 1))];
    const fitted = leastSquares(t, p, twoDecays, begin);
    if (fitted && (!best || fitted.squares < best.squares)) best = fitted;
  }
  if (!best) return null;
  const [a = 0, l = 0, b = 0, m = 0] = best.parameters;
  if (!(m > 2 * l) || !(m > 0)) return null;
  const within = t.length - 4;
  const f = within > 0 ? (singleSquares - best.squares) / 2 / (best.squares / within) : 0;
  return {
    leak: { amplitude: a, lambda: l },
    settling: { amplitude: b, mu: m },
    squares: best.squares,
    f,
    chance: f > 0 ? fTail(f, 2, within) : 1,
    standardErrors: best.standardErrors,
  };
}

/** Share of the permitted loss that a settling may still be worth when the clock starts, and share of the permitted slope that two slopes may differ by. */
const SETTLED_SHARE = 0.05;
const SLOPE_SHARE = 0.1;

/**
 * Seconds to wait before a settling of a known size and time constant no longer matters: on what is still to come, and on the rate at which it comes; the
 * larger counts. Engineering choice, of no standard.
 * @example settlingWait(1.2, 35, 3, 360) // 154.3569
 */
export function settlingWait(amplitude: number, timeConstantS: number, permittedLoss: number, holdS: number): number {
  const onAmount = timeConstantS * Math.log(amplitude / (SETTLED_SHARE * permittedLoss));
  const onRate = timeConstantS * Math.log(amplitude / timeConstantS / ((SETTLED_SHARE * permittedLoss) / holdS));
  return Math.max(0, onAmount, onRate);
}

/**
 * Whether a pressure has settled: its slope over one stretch and over the next are shown to be *equivalent*, within a tenth of the slope that would just
 * use up the permitted loss. An equivalence test, because noise must make it *not* settled; a test for a difference would let noisy data pass.
 * Source: two one-sided tests, Schuirmann 1987, from memory; the tenth is an engineering choice.
 * @param first and @param second two adjacent stretches, above zero
 * @example settled({ t: [0, 10, 20], p: [16.5, 16.5, 16.5] }, { t: [30, 40, 50], p: [16.5, 16.5, 16.5] }, 16.5, 3, 360) // true
 */
export function settled(first: Points, second: Points, startPressure: number, permittedLoss: number, holdS: number): boolean {
  const flat = (x: Points): readonly number[] => x.p.map(() => 1);
  if ([first, second].some((x) => x.t.length < 3 || x.p.some((v) => !(v > 0)))) return false;
  const a = logFit(first, flat(first));
  const b = logFit(second, flat(second));
  const most = Math.log(startPressure / (startPressure - permittedLoss)) / holdS;
  return Math.abs(a.lambda - b.lambda) + ONE_SIDED_95 * Math.hypot(a.seLambda, b.seLambda) <= SLOPE_SHARE * most;
}
