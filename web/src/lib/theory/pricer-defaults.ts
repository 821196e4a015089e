import type { ExpiryPicture, Picture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import type { PricerInputs } from '../api/pricer-inputs.ts';
import { fittedVolatility } from './expiry-smile.ts';
import { listedContract } from './listed-contract.ts';
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

/** Volatility of an expiry at a strike by the source in force; the smile's where that has none. */
export function volatilityAt(expiry: ExpiryPicture, side: Side, strike: number, inForce: VolatilityInForce): number {
  return (
    theoryVolatility(expiry, { side, strike }, inForce) ??
    fittedVolatility(expiry, strike) ??
    expiry.atm ??
    LAST_VOLATILITY
  );
}

/**
 * Inputs as the market of an expiry gives them: those with which Chain values the same option. What the Pricer starts from,
 * and what stands where nothing is typed.
 */
export function marketInputs(
  picture: Picture,
  expiry: ExpiryPicture,
  o: { side?: Side; strike?: number; inForce: VolatilityInForce },
): PricerInputs {
  const strike = o.strike ?? expiry.atMoney.strike;
  const side = o.side ?? 'call';
  const contract = listedContract(expiry, { side, strike }, volatilityAt(expiry, side, strike, o.inForce));
  return {
    side,
    exercise: contract.exercise,
    model: contract.model,
    underlying: contract.underlying,
    strike,
    days: expiry.days,
    volatility: contract.volatility,
    rate: contract.rate,
    dividendYield: contract.dividendYield ?? 0,
    dividends: (contract.dividends ?? []).map(({ time, amount }) => ({ days: time * 365, amount })),
    contracts: 1,
    multiplier: picture.underlying.multiplier,
  };
}

/**
 * Inputs of the same option in the next expiry, monthly before others, for its decay beside the present one's: that
 * expiry's own forward, rate and dividends, under what was typed. A typed underlying moves the later one's in proportion.
 */
export function laterInputs(
  picture: Picture,
  expiry: ExpiryPicture,
  { market, own, inForce }: { market: PricerInputs; own: Partial<PricerInputs>; inForce: VolatilityInForce },
): (PricerInputs & { date: string }) | undefined {
  const days = own.days ?? market.days;
  const later = picture.expiries.filter((e) => e.days > Math.max(expiry.days, days) + 1);
  const next = later.find((e) => e.isMonthly) ?? later[0];
  if (!next) return undefined;
  const { side, strike } = { ...market, ...own };
  const start = marketInputs(picture, next, { side, strike, inForce });
  const { days: _days, volatility: _volatility, underlying, ...typed } = own;
  const moved = underlying === undefined ? 1 : underlying / market.underlying;
  return { ...start, ...typed, underlying: start.underlying * moved, date: next.date };
}
