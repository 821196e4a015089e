import { type Option, optionPrice } from '../pricing/index.ts';

/** A day before which a call is worth more exercised than held. */
export interface EarlyAssignment {
  /** Ex-date, years from now */
  time: number;
  /** That goes ex then */
  amount: number;
  /** What exercise just before is worth more than holding, per unit of underlying: what an assignment costs who owes the call */
  gain: number;
}

/**
 * The first ex-date before which an American call is exercised, were the price to stay as it is: the price less the strike exceeds
 * what the call is worth once the dividend is off the price.
 * @param call American, on a spot with cash dividends
 * @returns undefined of any other option, and where holding is worth more before each
 * @see Roll, R. (1977). An analytic valuation formula for unprotected American call options on stocks with known dividends. Journal of
 *   Financial Economics 5(2), 251-258: exercise can pay just before an ex-date alone.
 */
export function earlyAssignment(call: Option): EarlyAssignment | undefined {
  const { side, exercise, model, strike, underlying, timeToExpiry, dividends = [] } = call;
  if (side !== 'call' || exercise !== 'american' || model !== 'spot') return undefined;
  for (const { time, amount } of [...dividends].sort((a, b) => a.time - b.time)) {
    if (!(time > 0 && time < timeToExpiry && underlying > amount)) continue;
    const held = optionPrice({
      ...call,
      underlying: underlying - amount,
      timeToExpiry: timeToExpiry - time,
      dividends: dividends.filter((d) => d.time > time).map((d) => ({ ...d, time: d.time - time })),
    });
    const gain = underlying - strike - held;
    if (gain > LEAST_GAIN * strike) return { time, amount, gain };
  }
  return undefined;
}

/** Grids err by about this share of the strike. */
const LEAST_GAIN = 2e-5;
