/** Middle value of a list (mean of the middle two), NaN when empty. The list is not changed. */
export function median(values: ArrayLike<number>): number {
  const sorted = Float64Array.from(values).sort();
  const n = sorted.length;
  return n === 0 ? NaN : 0.5 * (sorted[(n - 1) >> 1] + sorted[n >> 1]);
}
