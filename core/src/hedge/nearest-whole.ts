/** So far from the exact numbers is looked on either side: farther, much would be traded for little. */
const BOX = 8;
/** Branches that are looked at, at most; the best so far is taken then. */
const MOST_NODES = 200_000;

/**
 * Whole numbers x in a box around the exact solution that leave the least squares of A x - b, by branch and bound: from the last
 * unknown to the first, each from its nearest whole number outward, as long as what is left already stays below the best.
 * @param columns of A, as many as there are exact numbers, each as long as b
 * @see Schnorr, C. P. & Euchner, M. (1994). Lattice basis reduction: improved practical algorithms and solving subset sum problems.
 *   Mathematical Programming 66, 181-199 (the order of the search).
 */
export function nearestWhole(
  columns: readonly Float64Array[],
  right: Float64Array,
  exact: readonly number[],
): number[] {
  const n = columns.length;
  const { triangle, turned } = orthogonal(columns, right);
  const x = new Array<number>(n).fill(0);
  let best = exact.map(Math.round);
  let least = Infinity;
  let nodes = 0;
  const search = (j: number, rest: number): void => {
    if (j < 0) {
      if (rest < least) [least, best] = [rest, [...x]];
      return;
    }
    let open = turned[j];
    for (let k = j + 1; k < n; k++) open -= triangle[j][k] * x[k];
    const own = triangle[j][j];
    // A column that follows from the others leaves its number as it is.
    const center = own === 0 ? exact[j] : open / own;
    const [low, high] = [Math.floor(exact[j]) - BOX, Math.ceil(exact[j]) + BOX];
    const first = Math.min(high, Math.max(low, Math.round(center)));
    for (const [value, step] of [
      [first, 1],
      [first - 1, -1],
    ] as const)
      for (let tried = value; tried >= low && tried <= high && nodes < MOST_NODES; tried += step) {
        nodes++;
        const after = rest + (open - own * tried) ** 2;
        if (after >= least) break;
        x[j] = tried;
        search(j - 1, after);
        if (own === 0) break;
      }
  };
  search(n - 1, 0);
  return best.map((q) => (q === 0 ? 0 : q));
}

/** Columns as Q R, by modified Gram-Schmidt, and Q' b. */
function orthogonal(columns: readonly Float64Array[], right: Float64Array) {
  const n = columns.length;
  const base = columns.map((column) => Float64Array.from(column));
  const rest = Float64Array.from(right);
  const triangle = base.map(() => new Float64Array(n));
  const turned = new Float64Array(n);
  const dot = (a: Float64Array, b: Float64Array) => a.reduce((sum, v, i) => sum + v * b[i], 0);
  for (let j = 0; j < n; j++) {
    const norm = Math.sqrt(dot(base[j], base[j]));
    const size = Math.sqrt(dot(columns[j], columns[j]));
    if (!(norm > 1e-12 * size)) continue;
    triangle[j][j] = norm;
    for (let i = 0; i < rest.length; i++) base[j][i] /= norm;
    for (let k = j + 1; k < n; k++) {
      triangle[j][k] = dot(base[j], base[k]);
      for (let i = 0; i < rest.length; i++) base[k][i] -= triangle[j][k] * base[j][i];
    }
    turned[j] = dot(base[j], rest);
    for (let i = 0; i < rest.length; i++) rest[i] -= turned[j] * base[j][i];
  }
  return { triangle, turned };
}
