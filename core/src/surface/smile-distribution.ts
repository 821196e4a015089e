import { findRoot, normalCdf, normalDensity } from '../math/index.ts';
import { durrleman, type Smile } from './smile.ts';

/**
 * Risk-neutral probability that the underlying ends above a strike: -dC/dK of the undiscounted call on the smile. By its
 * level alone it would be N(d2); the slope of the smile takes n(d2) times that of the deviation off.
 * @param logMoneyness ln(strike / forward)
 * @see Breeden, D. T. & Litzenberger, R. H. (1978). Prices of state-contingent claims implicit in option prices. Journal of
 *   Business 51(4), 621-651.
 */
export function probabilityAbove(smile: Smile, logMoneyness: number): number {
  const w = smile.totalVariance(logMoneyness);
  const deviation = Math.sqrt(w);
  const d2 = -logMoneyness / deviation - 0.5 * deviation;
  return normalCdf(d2) - (normalDensity(d2) * smile.slope(logMoneyness)) / (2 * deviation);
}

/** Absolute, on log-moneyness: a price of 100 moves by 1e-8. */
const QUANTILE_TOLERANCE = 1e-10;
/** From the forward outward a quantile is looked for in steps that begin with this many deviations at the money, grow ... */
const QUANTILE_STEP = 0.5;
const QUANTILE_GROWTH = 1.1;
/** ... and are so many: far enough for steep wings over a low level. */
const MOST_QUANTILE_STEPS = 60;

/**
 * ln(price / forward) that the underlying ends below with a probability, risk-neutral.
 * @param probability 0 to 1 exclusive
 * @returns NaN where the smile does not reach it
 */
export function smileQuantile(smile: Smile, probability: number): number {
  if (!(probability > 0 && probability < 1)) return NaN;
  const miss = (k: number) => 1 - probabilityAbove(smile, k) - probability;
  const atForward = miss(0);
  if (atForward === 0) return 0;
  let step = (atForward > 0 ? -1 : 1) * QUANTILE_STEP * Math.sqrt(smile.totalVariance(0));
  for (let n = 0, near = 0; n < MOST_QUANTILE_STEPS; n++, near += step, step *= QUANTILE_GROWTH) {
    const far = near + step;
    if (atForward * miss(far) > 0) continue;
    const [low, high] = [Math.min(near, far), Math.max(near, far)];
    const result = findRoot(miss, { low, high, tolerance: QUANTILE_TOLERANCE });
    return result.ok ? result.root : NaN;
  }
  return NaN;
}

/**
 * Risk-neutral density of the price at expiry, per unit of the strike: g(k) n(d2) / (K sqrt(w)).
 * @param strike > 0
 * @see Gatheral, J. & Jacquier, A. (2014). Arbitrage-free SVI volatility surfaces. Quantitative Finance 14(1), 59-71,
 *   equation 2.2.
 */
export function riskNeutralDensity(smile: Smile, forward: number, strike: number): number {
  const k = Math.log(strike / forward);
  const deviation = Math.sqrt(smile.totalVariance(k));
  const d2 = -k / deviation - 0.5 * deviation;
  return (durrleman(smile, k) * normalDensity(d2)) / (strike * deviation);
}

/** Expected absolute move from the forward to expiry: the undiscounted straddle struck there. */
export function expectedAbsoluteMove(smile: Smile, forward: number): number {
  const half = 0.5 * Math.sqrt(smile.totalVariance(0));
  return 2 * forward * (1 - 2 * normalCdf(-half));
}
