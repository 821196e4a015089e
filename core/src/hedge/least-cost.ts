/** Below this share of the largest entry a number of the table is rounding. */
const ROUNDING = 1e-11;
/** Bland's rule ends; this many rounds would be a mistake of ours. */
const MOST_ROUNDS = 20_000;

/**
 * Which unknowns are not zero in the cheapest solution of A x = b, the cost being sum(cost |x|): at most as many as there are rows.
 * Found by the simplex method over x = u - v with u, v >= 0, Bland's rule against going round in circles.
 * @param rows A, each as long as `cost`
 * @param costs >= 0
 * @returns columns of the basis, or undefined where no x solves it
 * @see Dantzig, G. B. (1963). Linear Programming and Extensions; Bland, R. G. (1977). New finite pivoting rules for the simplex
 *   method. Mathematics of Operations Research 2(2), 103-107.
 */
export function cheapestBasis(
  rows: readonly (readonly number[])[],
  right: readonly number[],
  costs: readonly number[],
): number[] | undefined {
  const [m, n] = [rows.length, costs.length];
  const width = 2 * n + m;
  // Artificial unknowns start as the basis: first they are driven out, then what is left is made cheap.
  const table = rows.map((row, i) => {
    const sign = right[i] < 0 ? -1 : 1;
    const scale = sign / (Math.max(...row.map(Math.abs)) || 1);
    const line = new Float64Array(width + 1);
    for (let j = 0; j < n; j++) [line[j], line[n + j]] = [scale * row[j], -scale * row[j]];
    line[2 * n + i] = 1;
    line[width] = scale * right[i];
    return line;
  });
  const basis = rows.map((_, i) => 2 * n + i);
  const artificial = Float64Array.from({ length: width }, (_, j) => (j >= 2 * n ? 1 : 0));
  descend(table, basis, artificial, width);
  const left = basis.reduce((sum, column, i) => sum + (column >= 2 * n ? table[i][width] : 0), 0);
  if (left > 1e-9 * Math.max(1, ...table.map((line) => Math.abs(line[width])))) return undefined;
  // An artificial one may stay at nothing where a row follows from the others; it must not come back.
  const real = Float64Array.from({ length: width }, (_, j) => (j < 2 * n ? costs[j % n] : 0));
  descend(table, basis, real, 2 * n);
  return [...new Set(basis.filter((column) => column < 2 * n).map((column) => column % n))].sort((a, b) => a - b);
}

function descend(table: Float64Array[], basis: number[], costs: Float64Array, columns: number): void {
  const width = costs.length;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const entering = Array.from({ length: columns }, (_, j) => j).find((j) => {
      const saved = costs[j] - basis.reduce((sum, column, i) => sum + costs[column] * table[i][j], 0);
      return saved < -ROUNDING * Math.max(1, Math.abs(costs[j]));
    });
    if (entering === undefined) return;
    let leaving = -1;
    for (let i = 0; i < table.length; i++) {
      if (!(table[i][entering] > ROUNDING)) continue;
      const ratio = table[i][width] / table[i][entering];
      const best = leaving < 0 ? Infinity : table[leaving][width] / table[leaving][entering];
      if (ratio < best || (ratio === best && basis[i] < basis[leaving])) leaving = i;
    }
    // Costs are not below 0, so that the cheapest has an end.
    if (leaving < 0) return;
    pivot(table, leaving, entering);
    basis[leaving] = entering;
  }
  throw new Error('the cheapest hedge was not found');
}

function pivot(table: Float64Array[], row: number, column: number): void {
  const line = table[row];
  const top = line[column];
  for (let j = 0; j < line.length; j++) line[j] /= top;
  for (const [i, other] of table.entries()) {
    const factor = other[column];
    if (i === row || factor === 0) continue;
    for (let j = 0; j < line.length; j++) other[j] -= factor * line[j];
    other[column] = 0;
  }
}
