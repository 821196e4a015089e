import type { Smile } from './smile.ts';

/** Raw SVI parameters: w(k) = a + b (rho (k - m) + sqrt((k - m)^2 + sigma^2)). */
export interface SviRawParameters {
  /** Level */
  a: number;
  /** Slope of the wings, >= 0 */
  b: number;
  /** Tilt, -1 to 1 */
  rho: number;
  /** Shift along log-moneyness */
  m: number;
  /** Roundness at the bottom, > 0 */
  sigma: number;
}

/**
 * Smile of raw SVI parameters.
 * @param timeToExpiry years, > 0
 * @see Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71,
 *   equation 3.1.
 */
export function sviRawSmile(parameters: SviRawParameters, timeToExpiry: number): Smile {
  const { a, b, rho, m, sigma } = parameters;
  // Math.hypot guards against overflow that log-moneyness never comes near, and is ten times slower.
  const root = (x: number) => Math.sqrt(x * x + sigma * sigma);
  return {
    timeToExpiry,
    totalVariance: (k) => a + b * (rho * (k - m) + root(k - m)),
    slope: (k) => b * (rho + (k - m) / root(k - m)),
    curvature: (k) => (b * sigma * sigma) / root(k - m) ** 3,
  };
}
