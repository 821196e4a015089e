/** Total variance (volatility^2 x time) of one expiry as a function of log-moneyness k = ln(strike / forward). */
export interface Smile {
  /** Years, > 0 */
  readonly timeToExpiry: number;
  totalVariance(logMoneyness: number): number;
  /** d totalVariance / dk */
  slope(logMoneyness: number): number;
  /** d2 totalVariance / dk2 */
  curvature(logMoneyness: number): number;
}

/** Implied volatility per year of a smile at a log-moneyness. */
export function smileVolatility(smile: Smile, logMoneyness: number): number {
  return Math.sqrt(Math.max(smile.totalVariance(logMoneyness), 0) / smile.timeToExpiry);
}

/**
 * Durrleman's function g(k): the density of ln(price at expiry) is proportional to it, so a smile is free of butterfly
 * arbitrage where g >= 0 (and the wings are not too steep).
 * @see Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71,
 *   equation 2.1.
 */
export function durrleman(smile: Smile, logMoneyness: number): number {
  const w = smile.totalVariance(logMoneyness);
  const d = smile.slope(logMoneyness);
  const tilt = 1 - (logMoneyness * d) / (2 * w);
  return tilt * tilt - 0.25 * d * d * (1 / w + 0.25) + 0.5 * smile.curvature(logMoneyness);
}
