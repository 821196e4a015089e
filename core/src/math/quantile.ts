/**
 * Quantile of sorted values, linear between them.
 * @param sorted ascending, without NaN
 * @param share 0 (the least) to 1 (the greatest)
 * @returns NaN of none
 * @see Hyndman, R. J. & Fan, Y. (1996). Sample quantiles in statistical packages. American Statistician 50(4), 361-365, type 7.
 * @example quantile([1, 2, 3, 5], 0.5) // 2.5
 */
export function quantile(sorted: ArrayLike<number>, share: number): number {
  if (sorted.length === 0) return NaN;
  const place = share * (sorted.length - 1);
  const below = Math.floor(place);
  const above = Math.min(below + 1, sorted.length - 1);
  return sorted[below] + (place - below) * (sorted[above] - sorted[below]);
}
