import { logRatio } from '../math/index.ts';
import { impliedDeviationKernel } from './implied-deviation.ts';
import { requireRange } from './require-range.ts';
import { type Side, sideSign } from './side.ts';

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
  { ok: true; volatility: number } | { ok: false; reason: ImpliedVolatilityFailure };

/** Relative to forward + strike: some roundings of discount factor x (forward - strike), not a difference in price. */
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
  const { forward, strike, price } = o;
  if (Number.isNaN(price)) return { ok: false, reason: 'not-a-number' };
  const undiscounted = price / o.discountFactor;
  const intrinsic = Math.max(sideSign(o.side) * (forward - strike), 0);
  const limit = o.side === 'call' ? forward : strike;
  if (undiscounted >= limit) return { ok: false, reason: 'above-bound' };
  const timeValue = undiscounted - intrinsic;
  if (timeValue <= 0) {
    const isIntrinsic = intrinsic > 0 ? -timeValue <= INTRINSIC_TOLERANCE * (forward + strike) : timeValue === 0;
    return isIntrinsic ? { ok: true, volatility: 0 } : { ok: false, reason: 'below-intrinsic' };
  }
  if (o.timeToExpiry === 0) return { ok: false, reason: 'above-bound' };
  const x = -Math.abs(logRatio(forward, strike));
  const scale = Math.sqrt(forward) * Math.sqrt(strike);
  const beta = timeValue / scale;
  const deviation = impliedDeviationKernel(beta, Math.log(timeValue) - Math.log(scale), x);
  return deviation > 0
    ? { ok: true, volatility: deviation / Math.sqrt(o.timeToExpiry) }
    : { ok: false, reason: 'not-converged' };
}
