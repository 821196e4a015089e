import type { ExpiryPicture, Picture, Side } from '../schema/picture.ts';
import type { PricerInputs } from '../schema/pricer-inputs.ts';
import { fittedVolatility } from './expiry-smile.ts';
import { theoryVolatility, type VolatilityInForce } from './volatility-in-force.ts';

/** Where there is no underlying to start from. */
export const PLAIN_INPUTS: PricerInputs = {
  side: 'call',
  exercise: 'european',
  model: 'spot',
  underlying: 100,
  strike: 100,
  days: 30,
  volatility: 0.2,
  rate: 0.03,
  dividendYield: 0,
  dividends: [],
  contracts: 1,
  multiplier: 100,
};
/** Taken where neither a smile nor a quote tells a volatility. */
const LAST_VOLATILITY = 0.2;

/** Strike listed nearest to the forward. */
export function strikeAtMoney(expiry: ExpiryPicture): number {
  return expiry.strikes.reduce((best, k) =>
    Math.abs(k - expiry.forward) < Math.abs(best - expiry.forward) ? k : best,
  );
}

/** Volatility of an expiry at a strike by the source in force; the smile's where that has none. */
export function volatilityAt(expiry: ExpiryPicture, side: Side, strike: number, inForce: VolatilityInForce): number {
  return (
    theoryVolatility(expiry, { side, strike }, inForce) ??
    fittedVolatility(expiry, strike) ??
    expiry.atm ??
    LAST_VOLATILITY
  );
}

/** Inputs as the market of an expiry gives them: what the Pricer starts from, and what stands where nothing is typed. */
export function marketInputs(
  picture: Picture,
  expiry: ExpiryPicture,
  o: { side?: Side; strike?: number; inForce: VolatilityInForce },
): PricerInputs {
  const { underlying } = picture;
  const isFutures = underlying.model === 'futures';
  const strike = o.strike ?? strikeAtMoney(expiry);
  const side = o.side ?? 'call';
  return {
    side,
    exercise: underlying.exercise,
    model: underlying.model,
    underlying: isFutures ? expiry.forward : picture.price,
    strike,
    days: expiry.days,
    volatility: volatilityAt(expiry, side, strike, o.inForce),
    rate: expiry.impliedRate,
    dividendYield: isFutures ? 0 : expiry.impliedYield,
    dividends: [],
    contracts: 1,
    multiplier: underlying.multiplier,
  };
}

/** Inputs of the same option in the next expiry, monthly before others, for its decay beside the present one's. */
export function laterInputs(picture: Picture, expiry: ExpiryPicture, inputs: PricerInputs, inForce: VolatilityInForce) {
  const later = picture.expiries.filter((e) => e.days > Math.max(expiry.days, inputs.days) + 1);
  const next = later.find((e) => e.isMonthly) ?? later[0];
  if (!next) return undefined;
  return { date: next.date, days: next.days, volatility: volatilityAt(next, inputs.side, inputs.strike, inForce) };
}
