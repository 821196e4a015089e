import { logRatio, tableLog } from '../math/index.ts';
import { requireOneLength } from './european-columns.ts';
import { exactTimeValue } from './exact-time-value.ts';
import { fastImpliedDeviation } from './implied-deviation-fast.ts';
import { impliedDeviationKernel } from './implied-deviation.ts';
import { requireRange } from './require-range.ts';
import type { Side } from './side.ts';

export interface ImpliedVolatilityInput {
  side: Side;
  /** Forward or futures price, > 0 */
  forward: number;
  /** Same currency as forward, > 0 */
  strike: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Value today of 1 paid at expiry, > 0 */
  discountFactor: number;
  /** Price today, per unit of underlying; any number, NaN and infinities included */
  price: number;
}

export type ImpliedVolatilityFailure = 'below-intrinsic' | 'above-bound' | 'not-a-number' | 'not-converged';
export type ImpliedVolatilityResult =
  | { ok: true; volatility: number }
  | { ok: false; reason: ImpliedVolatilityFailure };

/**
 * Relative to forward + strike: a price that is below intrinsic by some roundings of discount factor x (forward -
 * strike) counts as equal to it. Above it every bit counts, since deep in the money a bit is a volatility.
 */
const INTRINSIC_TOLERANCE = 4 * Number.EPSILON;

/**
 * Black volatility at which a European option on a forward has the given price.
 * Accurate to a few units in the last place of what rounding of the inputs allows.
 * @returns `volatility` per year (0 for a price equal to the discounted intrinsic value), or the reason why there is
 *   none: `below-intrinsic`, `above-bound` (at or above the discounted forward for a call, strike for a put; or any
 *   time value with no time left), `not-a-number`, `not-converged`
 * @throws RangeError for forward, strike, timeToExpiry or discountFactor outside their ranges
 * @see Jäckel, P. (2017). Let's be rational. Wilmott 2017(87), 40-53.
 * @example impliedVolatility({ side: 'call', forward: 100, strike: 100, timeToExpiry: 1, discountFactor: 1, price: 7.965567455405804 }) // { ok: true, volatility: 0.2 }
 */
export function impliedVolatility(o: ImpliedVolatilityInput): ImpliedVolatilityResult {
  requireRange('forward', o.forward, { above: 0 });
  requireRange('strike', o.strike, { above: 0 });
  requireRange('timeToExpiry', o.timeToExpiry, { minimum: 0 });
  requireRange('discountFactor', o.discountFactor, { above: 0 });
  const volatility = impliedVolatilityRow(
    o.side === 'call' ? 1 : -1,
    o.forward,
    o.strike,
    o.timeToExpiry,
    o.discountFactor,
    o.price,
  );
  return volatility >= 0
    ? { ok: true, volatility }
    : { ok: false, reason: IMPLIED_VOLATILITY_STATUS[statusOf(volatility)] as ImpliedVolatilityFailure };
}

/** What becomes of a quote; the status column of {@link impliedVolatilityInto} holds places in this list. */
export const IMPLIED_VOLATILITY_STATUS = [
  'ok',
  'below-intrinsic',
  'above-bound',
  'not-converged',
  'not-a-number',
  'out-of-range',
] as const;
const OK = 0;
const BELOW_INTRINSIC = 1;
const ABOVE_BOUND = 2;
const NOT_CONVERGED = 3;
const NOT_A_NUMBER = 4;
const OUT_OF_RANGE = 5;

/** Volatility, or less its status where there is none, or NaN for a price that is not a number. Unchecked. */
function impliedVolatilityRow(
  sign: number,
  forward: number,
  strike: number,
  timeToExpiry: number,
  discountFactor: number,
  price: number,
): number {
  if (Number.isNaN(price)) return NaN;
  const undiscounted = price / discountFactor;
  if (undiscounted >= (sign > 0 ? forward : strike)) return -ABOVE_BOUND;
  const isInTheMoney = sign * (forward - strike) > 0;
  const timeValue = !isInTheMoney
    ? undiscounted
    : exactTimeValue(price, discountFactor, sign > 0 ? forward : strike, sign > 0 ? strike : forward) / discountFactor;
  if (timeValue <= 0) {
    const isIntrinsic = isInTheMoney ? -timeValue <= INTRINSIC_TOLERANCE * (forward + strike) : timeValue === 0;
    return isIntrinsic ? 0 : -BELOW_INTRINSIC;
  }
  if (timeToExpiry === 0) return -ABOVE_BOUND;
  const deviation = impliedDeviation(timeValue, forward, strike);
  // Rounding can put a price at its bound that is not so before it is normalised.
  if (deviation === Infinity) return -ABOVE_BOUND;
  return deviation > 0 ? deviation / Math.sqrt(timeToExpiry) : -NOT_CONVERGED;
}

/** Status of what {@link impliedVolatilityRow} gives. */
function statusOf(volatility: number): number {
  if (volatility >= 0) return OK;
  return Number.isNaN(volatility) ? NOT_A_NUMBER : -volatility;
}

/** Total deviation of an out-of-the-money value on forward and strike. Unchecked. */
function impliedDeviation(timeValue: number, forward: number, strike: number): number {
  const low = forward < strike ? forward : strike;
  const high = forward < strike ? strike : forward;
  const quotient = low / high;
  if (quotient > 1e-12) {
    const x = quotient < NEAR ? tableLog(quotient) : logNearOne(low, high);
    const fast = fastImpliedDeviation(timeValue / Math.sqrt(low * high), x, Math.sqrt(quotient));
    if (fast > 0) return fast;
  }
  const scale = Math.sqrt(low) * Math.sqrt(high);
  return impliedDeviationKernel(timeValue / scale, Math.log(timeValue) - Math.log(scale), logRatio(low, high));
}

/** From here on ln loses what the quotient has rounded away; the difference of the two prices is exact there. */
const NEAR = 0.95;

/** ln(low / high) = -2 artanh((high - low) / (high + low)) by its series; the next term is below 1e-20 of the first. */
function logNearOne(low: number, high: number): number {
  const y = (low - high) / (high + low);
  const z = y * y;
  return 2 * y * (1 + z * (1 / 3 + z * (1 / 5 + z * (1 / 7 + z * (1 / 9 + z * (1 / 11))))));
}

/** Quotes on forwards in parallel columns of one length. Units as in {@link ImpliedVolatilityInput}. */
export interface QuoteColumns {
  /** 1 for a call, 0 for a put */
  isCall: Uint8Array;
  forward: Float64Array;
  strike: Float64Array;
  timeToExpiry: Float64Array;
  discountFactor: Float64Array;
  price: Float64Array;
}

/**
 * Implied volatilities row by row, bit-identical to {@link impliedVolatility}.
 * @param out receives a volatility a row, NaN where there is none
 * @param status receives a place in {@link IMPLIED_VOLATILITY_STATUS}; `out-of-range` for inputs on which the scalar
 *   function throws
 * @throws RangeError when the columns differ in length
 */
export function impliedVolatilityInto(out: Float64Array, status: Uint8Array, c: QuoteColumns): void {
  const count = requireOneLength({ ...c, out, status });
  const { isCall, forward, strike, timeToExpiry, discountFactor, price } = c;
  for (let i = 0; i < count; i++) {
    const F = forward[i];
    const K = strike[i];
    const T = timeToExpiry[i];
    const D = discountFactor[i];
    if (!(F > 0 && F < Infinity && K > 0 && K < Infinity && T >= 0 && T < Infinity && D > 0 && D < Infinity)) {
      out[i] = NaN;
      status[i] = OUT_OF_RANGE;
      continue;
    }
    const volatility = impliedVolatilityRow(2 * isCall[i] - 1, F, K, T, D, price[i]);
    out[i] = volatility >= 0 ? volatility : NaN;
    status[i] = statusOf(volatility);
  }
}
