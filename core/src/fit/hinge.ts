import { solve } from './solve';

/** A break in a trace: the value where the two pieces meet, and its place in samples. */
export interface Hinge {
  readonly at: number;
  readonly value: number;
  readonly squares: number;
}

/** What the piece on one side of the break may be, as powers of the distance from it. */
export type Piece = 'line' | 'quadratic';

/** Step of the first scan, in samples. */
const COARSE = 1;

/** Σ x^k (k = 0…4) and Σ y·x^k (k = 0…2) over samples, running from the first: any stretch's sums are a difference of two. */
class RunningSums {
  private readonly x: Float64Array;
  private readonly xy: Float64Array;
  constructor(
    p: Float64Array,
    private readonly from: number,
    to: number,
    readonly middle: number,
    readonly origin: number,
  ) {
    const n = to - from + 1;
    this.x = new Float64Array(5 * (n + 1));
    this.xy = new Float64Array(3 * (n + 1));
    for (let i = 0; i < n; i++) {
      const x = from + i - origin;
      const y = (p[from + i] ?? 0) - middle;
      let power = 1;
      for (let k = 0; k < 5; k++) {
        this.x[5 * (i + 1) + k] = (this.x[5 * i + k] ?? 0) + power;
        if (k < 3) this.xy[3 * (i + 1) + k] = (this.xy[3 * i + k] ?? 0) + power * y;
        power *= x;
      }
    }
  }

  /** The sums over samples a..b−1, about a place t: shifted by the binomial theorem. */
  about(t: number, a: number, b: number): { readonly m: readonly number[]; readonly v: readonly number[] } {
    const d = t - this.origin;
    const raw = (array: Float64Array, width: number, k: number): number =>
      (array[width * (b - this.from) + k] ?? 0) - (array[width * (a - this.from) + k] ?? 0);
    const shifted = (array: Float64Array, width: number, k: number): number => {
      let sum = 0;
      let binomial = 1;
      for (let j = k; j >= 0; j--) {
        sum += binomial * raw(array, width, j) * Math.pow(-d, k - j);
        binomial = (binomial * j) / (k - j + 1);
      }
      return sum;
    };
    return { m: [0, 1, 2, 3, 4].map((k) => shifted(this.x, 5, k)), v: [0, 1, 2].map((k) => shifted(this.xy, 3, k)) };
  }
}

const powers = (piece: Piece): readonly number[] => (piece === 'line' ? [1] : [1, 2]);

/** Least squares of a continuous hinge with its break at a given place: what it explains, from the sums alone. */
function fitAt(sums: RunningSums, from: number, to: number, at: number, left: Piece, right: Piece): { value: number; explained: number } | null {
  const cut = Math.min(to + 1, Math.max(from, Math.ceil(at)));
  const l = sums.about(at, from, cut);
  const r = sums.about(at, cut, to + 1);
  // The constant is shared by both sides; every other column lives on one side only.
  const columns = [...powers(left).map((k) => ({ k, side: l })), ...powers(right).map((k) => ({ k, side: r }))];
  const size = columns.length + 1;
  const jj = Array.from({ length: size }, () => new Array<number>(size).fill(0));
  const jy = new Array<number>(size).fill(0);
  const set = (i: number, j: number, v: number): void => {
    const row = jj[i];
    if (row) row[j] = v;
  };
  set(0, 0, (l.m[0] ?? 0) + (r.m[0] ?? 0));
  jy[0] = (l.v[0] ?? 0) + (r.v[0] ?? 0);
  columns.forEach((c, i) => {
    set(0, i + 1, c.side.m[c.k] ?? 0);
    set(i + 1, 0, c.side.m[c.k] ?? 0);
    jy[i + 1] = c.side.v[c.k] ?? 0;
    columns.forEach((d, j) => set(i + 1, j + 1, c.side === d.side ? (c.side.m[c.k + d.k] ?? 0) : 0));
  });
  const parameters = solve(jj, jy);
  if (!parameters) return null;
  return { value: (parameters[0] ?? 0) + sums.middle, explained: parameters.reduce((sum, v, i) => sum + v * (jy[i] ?? 0), 0) };
}

/**
 * Where a trace breaks from one piece into another, by scanning the break.
 * Source: segmented regression, Hinkley 1969, from memory.
 * @param from and @param to first and last sample that is fitted
 * @param low and @param high where the break is looked for, in samples
 * @param step of the finer scan, in samples
 */
export function hinge(p: Float64Array, from: number, to: number, low: number, high: number, step: number, left: Piece, right: Piece): Hinge | null {
  if (to - from < 6) return null;
  const origin = Math.round((low + high) / 2);
  const middle = p[Math.min(to, Math.max(from, origin))] ?? 0;
  const sums = new RunningSums(p, from, to, middle, origin);
  let yy = 0;
  for (let i = from; i <= to; i++) yy += ((p[i] ?? 0) - middle) ** 2;
  const scan = (a: number, b: number, by: number): Hinge | null => {
    let best: Hinge | null = null;
    for (let at = Math.max(a, from + 2); at <= Math.min(b, to - 2); at += by) {
      const found = fitAt(sums, from, to, at, left, right);
      if (found && (!best || yy - found.explained < best.squares)) best = { at, value: found.value, squares: yy - found.explained };
    }
    return best;
  };
  // Whole samples first, then finely about the best of them: the sum of squares has one valley a sample wide or wider.
  const coarse = scan(low, high, COARSE);
  return coarse && scan(Math.max(low, coarse.at - COARSE), Math.min(high, coarse.at + COARSE), step);
}
