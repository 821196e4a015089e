/**
 * QLIKE: loss of a variance forecast that no noise of the proxy, when it is unbiased, turns against the better one.
 * @param proxy, forecast of the same variance, > 0
 * @returns 0 when they agree
 * @see Patton, A. J. (2011). Volatility forecast comparison using imperfect volatility proxies. Journal of Econometrics 160(1),
 *   246-256.
 * @example qlike(0.04, 0.02) // 2 - ln 2 - 1 = 0.306853
 */
export function qlike(proxy: number, forecast: number): number {
  const ratio = proxy / forecast;
  return ratio - Math.log(ratio) - 1;
}
