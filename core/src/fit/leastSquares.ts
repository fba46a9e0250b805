import { valueAt } from './valueAt';
import { solve } from './solve';

/** A model of one number and some parameters, with the slopes by each parameter. */
export interface Model {
  readonly value: (x: number, b: readonly number[]) => number;
  readonly slopes: (x: number, b: readonly number[]) => readonly number[];
}

export interface Fitted {
  readonly parameters: readonly number[];
  readonly standardErrors: readonly number[];
  readonly squares: number;
}

/**
 * Least squares for a model that is not straight, by Levenberg–Marquardt.
 * Source: Marquardt 1963, from memory.
 * @param start parameters to begin from
 * @returns null when the model cannot be fitted to these points
 * @example leastSquares([0, 1, 2], [1, 3, 5], { value: (x, [a = 0, b = 0]) => a + b * x, slopes: (x) => [1, x] }, [0, 0])?.parameters // [1, 2]
 */
export function leastSquares(x: readonly number[], y: readonly number[], model: Model, start: readonly number[]): Fitted | null {
  let b = [...start];
  const squaresAt = (at: readonly number[]): number => x.reduce((sum, v, i) => sum + (valueAt(y, i) - model.value(v, at)) ** 2, 0);
  let squares = squaresAt(b);
  let damping = 1e-3;
  const normal = (at: readonly number[]): { jj: number[][]; jr: number[] } => {
    const jj = at.map(() => at.map(() => 0));
    const jr = at.map(() => 0);
    x.forEach((v, i) => {
      const slopes = model.slopes(v, at);
      const r = valueAt(y, i) - model.value(v, at);
      slopes.forEach((s, a) => {
        jr[a] = valueAt(jr, a) + s * r;
        const row = jj[a];
        if (row) slopes.forEach((u, c) => (row[c] = valueAt(row, c) + s * u));
      });
    });
    return { jj, jr };
  };
  for (let turn = 0; turn < 500; turn++) {
    const { jj, jr } = normal(b);
    const step = solve(
      jj.map((row, i) => row.map((v, k) => (i === k ? v * (1 + damping) : v))),
      jr,
    );
    if (!step) return null;
    const next = b.map((v, i) => v + valueAt(step, i));
    const now = squaresAt(next);
    if (Number.isFinite(now) && now <= squares) {
      const small = step.every((s, i) => Math.abs(s) <= 1e-11 * (Math.abs(valueAt(b, i)) + 1e-12));
      b = next;
      squares = now;
      damping = Math.max(1e-12, damping / 10);
      if (small) break;
    } else {
      damping *= 10;
      if (damping > 1e12) break;
    }
  }
  const { jj } = normal(b);
  const variance = squares / Math.max(1, x.length - b.length);
  const standardErrors: number[] = [];
  for (let i = 0; i < b.length; i++) {
    const column = solve(
      jj,
      b.map((_, k) => (k === i ? 1 : 0)),
    );
    if (!column) return null;
    standardErrors.push(Math.sqrt(variance * Math.max(0, valueAt(column, i))));
  }
  return { parameters: b, standardErrors, squares };
}
