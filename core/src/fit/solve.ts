/** Solves a small system of equations by elimination with row pivots; null when it has no single answer. */
export function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const n = right.length;
  const rows = matrix.map((row, i) => [...row, right[i] ?? 0]);
  for (let col = 0; col < n; col++) {
    let pivot = col;
    for (let r = col + 1; r < n; r++) if (Math.abs(rows[r]?.[col] ?? 0) > Math.abs(rows[pivot]?.[col] ?? 0)) pivot = r;
    const top = rows[pivot];
    const here = rows[col];
    if (!top || !here || !(Math.abs(top[col] ?? 0) > 0)) return null;
    [rows[col], rows[pivot]] = [top, here];
    for (let r = 0; r < n; r++) {
      const row = rows[r];
      if (r === col || !row) continue;
      const factor = (row[col] ?? 0) / (top[col] ?? 1);
      for (let c = col; c <= n; c++) row[c] = (row[c] ?? 0) - factor * (top[c] ?? 0);
    }
  }
  return rows.map((row, i) => (row[n] ?? 0) / (row[i] ?? 1));
}
