import { valueAt } from './valueAt';

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

/** Moments of a stretch: Σ x^k for k = 0…4, then Σ y·x^k for k = 0…2. */
const MOMENTS = 8;
const POWERS = 5;

/** Moments running from the first sample: any stretch's are a difference of two. The scan below asks thousands of times, so nothing here makes an object. */
function runningMoments(p: Float64Array, from: number, to: number, origin: number, middle: number): Float64Array {
  const n = to - from + 1;
  const sums = new Float64Array(MOMENTS * (n + 1));
  for (let i = 0; i < n; i++) {
    const x = from + i - origin;
    const y = valueAt(p, from + i) - middle;
    let power = 1;
    for (let k = 0; k < POWERS; k++) {
      sums[MOMENTS * (i + 1) + k] = valueAt(sums, MOMENTS * i + k) + power;
      if (k < 3) sums[MOMENTS * (i + 1) + POWERS + k] = valueAt(sums, MOMENTS * i + POWERS + k) + power * y;
      power *= x;
    }
  }
  return sums;
}

/** Binomial coefficients, five to a row. */
const binomials = [1, 0, 0, 0, 0, 1, 1, 0, 0, 0, 1, 2, 1, 0, 0, 1, 3, 3, 1, 0, 1, 4, 6, 4, 1];

/** The moments of places a..b−1 (counted from the first sample) about a place d from the origin, by the binomial theorem. */
function momentsAbout(sums: Float64Array, a: number, b: number, d: number, out: Float64Array): void {
  for (let first = 0, count = POWERS; first < MOMENTS; first += POWERS, count = 3)
    for (let k = 0; k < count; k++) {
      let total = 0;
      let shift = 1; // (−d)^(k−j), from j = k downwards
      for (let j = k; j >= 0; j--) {
        const raw = valueAt(sums, MOMENTS * b + first + j) - valueAt(sums, MOMENTS * a + first + j);
        total += valueAt(binomials, POWERS * k + j) * raw * shift;
        shift *= -d;
      }
      out[first + k] = total;
    }
}

/** A system of at most five equations with its right side, in one array; solved in its place, the answer left in `answer`. */
const SIZE = 5;
class Scratch {
  readonly left = new Float64Array(MOMENTS);
  readonly right = new Float64Array(MOMENTS);
  readonly rows = new Float64Array(SIZE * (SIZE + 1));
  readonly answer = new Float64Array(SIZE);

  at(r: number, c: number): number {
    return valueAt(this.rows, r * (SIZE + 1) + c);
  }
  put(r: number, c: number, v: number): void {
    this.rows[r * (SIZE + 1) + c] = v;
  }

  /** Elimination without pivots: the matrix is one of least squares, symmetric and positive. False when it is not. */
  solved(n: number): boolean {
    for (let col = 0; col < n; col++) {
      const top = this.at(col, col);
      if (!(top > 0)) return false;
      for (let r = col + 1; r < n; r++) {
        const factor = this.at(r, col) / top;
        for (let c = col; c <= SIZE; c++) this.put(r, c, this.at(r, c) - factor * this.at(col, c));
      }
    }
    for (let r = n - 1; r >= 0; r--) {
      let v = this.at(r, SIZE);
      for (let c = r + 1; c < n; c++) v -= this.at(r, c) * valueAt(this.answer, c);
      this.answer[r] = v / this.at(r, r);
    }
    return true;
  }
}

/** What a hinge with its break at a place explains, and its value there; the constant is shared by both sides, every other column lives on one alone. */
function explainedBy(s: Scratch, leftPowers: number, rightPowers: number): number {
  const n = 1 + leftPowers + rightPowers;
  const { left, right } = s;
  const right0 = 1 + leftPowers;
  for (let i = 0; i < n; i++) {
    const onLeft = i > 0 && i < right0;
    const side = onLeft ? left : right;
    const power = i === 0 ? 0 : onLeft ? i : i - leftPowers;
    for (let j = 0; j < n; j++) {
      const sameSide = i === 0 || j === 0 || onLeft === j < right0;
      const other = j === 0 ? 0 : j < right0 ? j : j - leftPowers;
      const from = i > 0 ? side : j > 0 && j < right0 ? left : right;
      s.put(i, j, i === 0 && j === 0 ? valueAt(left, 0) + valueAt(right, 0) : sameSide ? valueAt(from, power + other) : 0);
    }
    s.put(i, SIZE, i === 0 ? valueAt(left, POWERS) + valueAt(right, POWERS) : valueAt(side, POWERS + power));
  }
  const y0 = s.at(0, SIZE);
  if (!s.solved(n)) return Number.NaN;
  let explained = valueAt(s.answer, 0) * y0;
  for (let i = 1; i < n; i++) {
    const onLeft = i < right0;
    explained += valueAt(s.answer, i) * valueAt(onLeft ? left : right, POWERS + (onLeft ? i : i - leftPowers));
  }
  return explained;
}

const powers = (piece: Piece): number => (piece === 'line' ? 1 : 2);

/**
 * Where a trace breaks from one piece into another, by scanning the break.
 * Source: segmented regression, Hinkley 1969, from memory.
 * @param from and @param to first and last sample that is fitted
 * @param low and @param high where the break is looked for, in samples
 * @param step of the finer scan, in samples
 * @example hinge(Float64Array.of(0, 1, 2, 3, 4, 5, 5, 5, 5, 5), 0, 9, 2, 7, 0.25, 'line', 'line')?.at // 5
 */
export function hinge(p: Float64Array, from: number, to: number, low: number, high: number, step: number, left: Piece, right: Piece): Hinge | null {
  if (to - from < 6) return null;
  const origin = Math.round((low + high) / 2);
  const middle = valueAt(p, Math.min(to, Math.max(from, origin)));
  const sums = runningMoments(p, from, to, origin, middle);
  const scratch = new Scratch();
  let yy = 0;
  for (let i = from; i <= to; i++) yy += (valueAt(p, i) - middle) ** 2;
  const scan = (a: number, b: number, by: number): Hinge | null => {
    let [bestAt, most, value] = [Number.NaN, Number.NEGATIVE_INFINITY, 0];
    for (let at = Math.max(a, from + 2); at <= Math.min(b, to - 2); at += by) {
      const cut = Math.ceil(at) - from;
      momentsAbout(sums, 0, cut, at - origin, scratch.left);
      momentsAbout(sums, cut, to - from + 1, at - origin, scratch.right);
      const explained = explainedBy(scratch, powers(left), powers(right));
      if (explained > most) [bestAt, most, value] = [at, explained, valueAt(scratch.answer, 0)];
    }
    return Number.isNaN(bestAt) ? null : { at: bestAt, value: value + middle, squares: yy - most };
  };
  // Whole samples first, then finely about the best of them: the sum of squares has one valley a sample wide or wider.
  const coarse = scan(low, high, COARSE);
  return coarse && scan(Math.max(low, coarse.at - COARSE), Math.min(high, coarse.at + COARSE), step);
}
