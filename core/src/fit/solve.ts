import { valueAt } from './valueAt';

/**
 * Solves a small system of equations by elimination with row pivots; null when it has no single answer.
 * @example solve([[2, 1], [1, 3]], [5, 10]) // [1, 3]
 */
export function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const n = right.length;
  const rows = matrix.map((row, i) => [...row, valueAt(right, i)]);
  for (let col = 0; col < n; col++) {
    // The largest of the column comes to the top, so that nothing is divided by what is nearly nothing.
    const below = rows.slice(col).sort((a, b) => Math.abs(valueAt(b, col)) - Math.abs(valueAt(a, col)));
    rows.splice(col, below.length, ...below);
    const top = below[0];
    if (!top || !(Math.abs(valueAt(top, col)) > 0)) return null;
    for (const row of rows) {
      if (row === top) continue;
      const factor = valueAt(row, col) / valueAt(top, col);
      for (let c = col; c <= n; c++) row[c] = valueAt(row, c) - factor * valueAt(top, c);
    }
  }
  return rows.map((row, i) => valueAt(row, n) / valueAt(row, i));
}
