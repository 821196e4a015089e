import { normalCdfOverDensity, normalMomentRatio } from '../math/index.ts';
import type { ImpliedVolatilityResult } from './implied-volatility.ts';
import { requireRange } from './require-range.ts';
import type { Side } from './side.ts';

const INVERSE_SQRT_TWO_PI = 0.3989422804014327;
const LOG_SQRT_TWO_PI = 0.9189385332046727;
const SQRT_TWO_PI = 2.5066282746310005;
/** Relative, on the score: Newton doubles the digits, so the step after this one is below rounding. */
const STEP_TOLERANCE = 1e-9;
const MOST_STEPS = 60;
const INTRINSIC_TOLERANCE = 4 * Number.EPSILON;

export interface ImpliedNormalVolatilityInput {
  side: Side;
  /** Forward or futures price, any sign */
  forward: number;
  /** Any sign */
  strike: number;
  /** Years, >= 0 */
  timeToExpiry: number;
  /** Value today of 1 paid at expiry, > 0 */
  discountFactor: number;
  /** Price today, per unit of underlying; any number, NaN and infinities included */
  price: number;
}

/**
 * Normal (Bachelier) volatility, in price units per root year, at which a European option has the given price.
 * Symbols: d = -|forward - strike| / s; the time value over |forward - strike| is (n(d) + d N(d)) / |d|, a function of d
 * alone, whose logarithm is inverted by Newton's method in ln |d|, where it is concave and nearly straight at both ends.
 * @returns `volatility` (0 for a price equal to the discounted intrinsic value), or the reason why there is none; there
 *   is no upper bound but `above-bound` for time value with no time left, or an infinite price
 * @throws RangeError for forward, strike, timeToExpiry or discountFactor outside their ranges
 * @see Bachelier, L. (1900). Théorie de la spéculation. Annales scientifiques de l'É.N.S. 17, 21-86.
 */
export function impliedNormalVolatility(o: ImpliedNormalVolatilityInput): ImpliedVolatilityResult {
  requireRange('forward', o.forward);
  requireRange('strike', o.strike);
  requireRange('timeToExpiry', o.timeToExpiry, { minimum: 0 });
  requireRange('discountFactor', o.discountFactor, { above: 0 });
  if (Number.isNaN(o.price)) return { ok: false, reason: 'not-a-number' };
  const undiscounted = o.price / o.discountFactor;
  const gap = o.forward - o.strike;
  const moneyness = o.side === 'call' ? gap : -gap;
  const timeValue = undiscounted - Math.max(moneyness, 0);
  if (timeValue === Infinity) return { ok: false, reason: 'above-bound' };
  if (timeValue <= 0) {
    const scale = Math.abs(o.forward) + Math.abs(o.strike);
    const isIntrinsic = moneyness > 0 ? -timeValue <= INTRINSIC_TOLERANCE * scale : timeValue === 0;
    return isIntrinsic ? { ok: true, volatility: 0 } : { ok: false, reason: 'below-intrinsic' };
  }
  if (o.timeToExpiry === 0) return { ok: false, reason: 'above-bound' };
  const root = Math.sqrt(o.timeToExpiry);
  if (gap === 0) return { ok: true, volatility: (timeValue * SQRT_TWO_PI) / root };
  const score = scoreOf(Math.log(timeValue / Math.abs(gap)));
  return score > 0 ? { ok: true, volatility: Math.abs(gap) / score / root } : { ok: false, reason: 'not-converged' };
}

/** |d| at which ln((n(d) + d N(d)) / |d|) has the given value; NaN when the steps do not settle. */
function scoreOf(target: number): number {
  let u = target > -1 ? Math.log(INVERSE_SQRT_TWO_PI) - Math.max(target, -0.5) : 0.5 * Math.log(-2 * target);
  for (let step = 0; step < MOST_STEPS; step++) {
    const score = Math.exp(u);
    const d = -score;
    // (n + d N) / n, by moments where the sum would cancel; and N / (n + d N).
    const y = normalCdfOverDensity(d);
    const slope = d > -2 ? 1 + d * y : y * normalMomentRatio(d, 1);
    const value = Math.log(slope) - 0.5 * score * score - LOG_SQRT_TWO_PI - u;
    const derivative = -(score * y) / slope - 1;
    const change = (target - value) / derivative;
    u += Math.max(Math.min(change, 2), -2);
    if (Math.abs(change) <= STEP_TOLERANCE) return Math.exp(u);
  }
  return NaN;
}
