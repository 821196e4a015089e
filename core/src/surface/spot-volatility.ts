import type { CashDividend } from '../pricing/index.ts';

/** Forward of a spot that pays cash dividends, and how it drifts. */
export interface DividendForward {
  forward: number;
  timeToExpiry: number;
  /** Per year, as the discount factor has it */
  rate: number;
  dividendYield: number;
  /** Ex-dates inside (0, timeToExpiry) */
  dividends: readonly CashDividend[];
}

/** Points of Simpson's rule between two dividends. */
const POINTS = 4;

/**
 * Ratio of the volatility of an option's forward (what the smile tells, Black's) to that of its spot between dividends (what
 * the option with cash dividends is priced with), by strike. The forward moves with sigma (M + D_t) where the spot moves
 * with sigma: D_t is the value at expiry of the dividends still to come, M the forward. Its Black variance is, to leading
 * order in the variance, the mean of its local variance along the likeliest way to the strike, M_t = F (K / F)^(t / T).
 * @param logMoneyness ln(strike / forward)
 * @returns > 1 with dividends ahead, 1 without. Against European prices on a fine grid, two deviations around the forward, it
 *   errs by 3e-5 with 1.7 % of dividends in four months, by 5e-4 with 6 % in a year or 8 % at once, by 4e-3 with 6 % in two
 *   years at 50 %
 * @see Gatheral, J., Hsu, E. P., Laurence, P., Ouyang, C. & Wang, T.-H. (2012). Asymptotics of implied volatility in local
 *   volatility models. Mathematical Finance 22(4), 591-620.
 */
export function forwardPerSpotVolatility(o: DividendForward, logMoneyness: number): number {
  const { forward, timeToExpiry: T, rate, dividendYield, dividends } = o;
  if (dividends.length === 0) return 1;
  const dates = [...dividends].sort((a, b) => a.time - b.time);
  let ahead = 0;
  const valueAtExpiry = (d: CashDividend) => d.amount * Math.exp((rate - dividendYield) * (T - d.time));
  for (const d of dates) ahead += valueAtExpiry(d);
  let from = 0;
  let sum = 0;
  for (const d of dates) {
    sum += meanOver(from, d.time);
    ahead -= valueAtExpiry(d);
    from = d.time;
  }
  sum += T - from;
  return Math.sqrt(sum / T);

  function meanOver(start: number, end: number): number {
    let total = 0;
    for (let i = 0; i <= POINTS; i++) {
      const t = start + ((end - start) * i) / POINTS;
      const weight = i === 0 || i === POINTS ? 1 : i % 2 === 1 ? 4 : 2;
      total += weight * (1 + ahead / (forward * Math.exp((logMoneyness * t) / T))) ** 2;
    }
    return ((end - start) * total) / (3 * POINTS);
  }
}
