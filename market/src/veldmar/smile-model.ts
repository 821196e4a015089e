/**
 * Total variance of the power-law SSVI surface, free of static arbitrage for tiltStrength (1 + |tilt|) <= 2.
 * Symbols of the source: theta at-the-money total variance, rho tilt, eta strength, phi = eta / sqrt(theta (1 + theta)).
 * @see Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71,
 *   section 4 (power-law parameterization with gamma = 1/2).
 */
export function ssviTotalVariance(o: {
  logMoneyness: number;
  atmTotalVariance: number;
  tilt: number;
  strength: number;
}): number {
  const { logMoneyness: k, atmTotalVariance: theta, tilt: rho } = o;
  const phi = o.strength / Math.sqrt(theta * (1 + theta));
  const shifted = phi * k + rho;
  return 0.5 * theta * (1 + rho * phi * k + Math.sqrt(shifted * shifted + 1 - rho * rho));
}

/** Mean variance from now to T of a variance that reverts from `now` to `longRun` at a speed per year, times T. */
export function revertingTotalVariance(o: { now: number; longRun: number; speed: number; time: number }): number {
  return o.longRun * o.time + ((o.now - o.longRun) * -Math.expm1(-o.speed * o.time)) / o.speed;
}
