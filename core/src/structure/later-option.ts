import { normalCdfByBell } from '../math/index.ts';
import { black76Price, type Side } from '../pricing/index.ts';

/** An option that lives on after a day. */
export interface LaterOption {
  side: Side;
  strike: number;
  /** Left after the day, years, > 0 */
  yearsLeft: number;
  /** Forward of its expiry for each unit of the price on the day */
  growth: number;
  /** Value on the day of 1 paid at its own expiry */
  discount: number;
}

/** What a column of prices makes of an option on a day; plain derivatives, one a price. */
export interface LaterGreeks {
  value: Float64Array;
  /** By the price on the day */
  delta: Float64Array;
  gamma: Float64Array;
  /** By the calendar, a year: the rate and the growth of what is left stay as they are */
  theta: Float64Array;
  /** By the volatility after the day */
  vega: Float64Array;
  rho: Float64Array;
}

const INVERSE_SQRT_TWO_PI = 0.3989422804014326779;

/** Worth of a later option on the day, at a price of the underlying and a constant volatility from then on. */
export function laterValue(option: LaterOption, volatility: number, price: number): number {
  const { side, strike, yearsLeft, growth, discount } = option;
  return black76Price({
    side,
    forward: price * growth,
    strike,
    timeToExpiry: yearsLeft,
    volatility,
    discountFactor: discount,
  });
}

/**
 * Adds so many times {@link laterValue} and its first derivatives, gamma too, at many prices at once: by Black's formula as it stands: absolute errors are a few
 * roundings of the strike, so that far out of the money fewer digits are right than of `laterValue`.
 * @param volatility of all prices, or one a price
 * @param o.logs logarithms of the prices
 * @param o.isForwardFixed whether the price is a future's, which a rate does not move
 * @param out one place a price
 * @see Black, F. (1976). The pricing of commodity contracts. Journal of Financial Economics 3(1-2), 167-179.
 */
export function laterGreeks(
  option: LaterOption,
  volatility: number | Float64Array,
  o: { quantity: number; prices: Float64Array; logs: Float64Array; isForwardFixed: boolean },
  out: LaterGreeks,
): void {
  const { strike, yearsLeft, growth, discount } = option;
  const sign = option.side === 'call' ? 1 : -1;
  const root = Math.sqrt(yearsLeft);
  const rate = -Math.log(discount) / yearsLeft;
  const drift = Math.log(growth) / yearsLeft;
  const offset = Math.log(growth / strike);
  const { prices, logs, quantity } = o;
  const { value, delta, gamma, theta, vega, rho } = out;
  const [present, scale] = [quantity * discount, quantity * discount * INVERSE_SQRT_TWO_PI];
  for (let i = 0; i < prices.length; i++) {
    const price = prices[i];
    const here = typeof volatility === 'number' ? volatility : volatility[i];
    const deviation = here * root;
    const bend = 1 / deviation;
    const forward = price * growth;
    const d1 = (logs[i] + offset) * bend + 0.5 * deviation;
    const d2 = d1 - deviation;
    const bell = Math.exp(-0.5 * d1 * d1);
    // F n(d1) = K n(d2).
    const first = sign * normalCdfByBell(sign * d1, bell);
    const second = sign * normalCdfByBell(sign * d2, (bell * forward) / strike);
    const held = present * forward * first;
    const paid = present * strike * second;
    const slope = scale * forward * bell;
    value[i] += held - paid;
    delta[i] += held / price;
    gamma[i] += (slope * bend) / (price * price);
    vega[i] += slope * root;
    theta[i] += rate * (held - paid) - drift * held - (0.5 * here * slope) / root;
    rho[i] += yearsLeft * (o.isForwardFixed ? paid - held : paid);
  }
}

/**
 * Mean of {@link laterValue} over prices of given shares, and its derivative by the volatility.
 * @returns [mean, derivative]
 */
export function laterMean(
  option: LaterOption,
  volatility: number,
  { prices, logs, shares }: { prices: Float64Array; logs: Float64Array; shares: Float64Array },
): [mean: number, vega: number] {
  const { strike, yearsLeft, growth, discount } = option;
  const sign = option.side === 'call' ? 1 : -1;
  const root = Math.sqrt(yearsLeft);
  const deviation = volatility * root;
  const offset = Math.log(growth / strike);
  let mean = 0;
  let vega = 0;
  for (let i = 0; i < prices.length; i++) {
    const forward = prices[i] * growth;
    const d1 = (logs[i] + offset) / deviation + 0.5 * deviation;
    const bell = Math.exp(-0.5 * d1 * d1);
    const held = forward * normalCdfByBell(sign * d1, bell);
    const paid = strike * normalCdfByBell(sign * (d1 - deviation), (bell * forward) / strike);
    mean += shares[i] * sign * (held - paid);
    vega += shares[i] * forward * bell;
  }
  return [discount * mean, discount * INVERSE_SQRT_TWO_PI * root * vega];
}
