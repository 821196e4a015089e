import type { Accuracy } from './american-levels.ts';
import { certainExercise } from './certain.ts';
import { impliedNormalVolatility } from './implied-normal-volatility.ts';
import { impliedVolatility, type ImpliedVolatilityResult } from './implied-volatility.ts';
import { carryYield, checkOption, exerciseValue, type Option } from './option.ts';
import { optionPrice } from './option-price.ts';
import { pricingMethod } from './pricing-method.ts';

/** Relative to underlying + strike: some roundings, not a difference in price. */
const PRICE_ROUNDING = 4 * Number.EPSILON;
/** Relative, on the volatility. */
const VOLATILITY_TOLERANCE = 1e-12;
/** Bracket of volatility times root time; 12 prices every out-of-the-money option at its bound to 1e-8. */
const LARGEST_DEVIATION = 12;
const MOST_STEPS = 80;

/**
 * Volatility at which any supported option has the given price: in closed form to rounding for European options without
 * cash dividends, else by a safeguarded secant on {@link optionPrice}.
 * @param o see {@link Option}; its volatility is not read
 * @param price today's price per unit of underlying, any number, NaN and infinities included
 * @param accuracy of the prices that are inverted, where no closed form serves
 * @returns `volatility`: 0 for a price equal to what exercise now, or a certain path, brings; or the reason why there is
 *   none: `below-intrinsic`, `above-bound`, `not-a-number`, `not-converged`
 * @throws RangeError for other inputs outside the ranges of {@link Option}
 */
export function optionImpliedVolatility(
  o: Omit<Option, 'volatility'>,
  price: number,
  accuracy: Accuracy = 'fine',
): ImpliedVolatilityResult {
  const probe: Option = { ...o, volatility: 1 };
  checkOption(probe);
  if (Number.isNaN(price)) return { ok: false, reason: 'not-a-number' };
  if (pricingMethod(probe).method === 'closed-form') return closedFormImpliedVolatility(probe, price);
  const certain = Math.max(
    certainExercise({ ...o, volatility: 0 }).price,
    o.exercise === 'american' ? exerciseValue(probe) : 0,
  );
  const rounding = PRICE_ROUNDING * (Math.abs(o.underlying) + Math.abs(o.strike));
  if (price < certain - rounding) return { ok: false, reason: 'below-intrinsic' };
  if (price <= certain + rounding) return { ok: true, volatility: 0 };
  if (o.timeToExpiry === 0 || price >= upperBound(probe)) return { ok: false, reason: 'above-bound' };
  return search(probe, price, accuracy);
}

function closedFormImpliedVolatility(o: Option, price: number): ImpliedVolatilityResult {
  const { side, strike, timeToExpiry, rate } = o;
  const discountFactor = Math.exp(-rate * timeToExpiry);
  // A zero or infinite discount factor has no price to imply from.
  if (!(discountFactor > 0 && discountFactor < Infinity)) return { ok: false, reason: 'not-converged' };
  // An American option that is never exercised early may not be quoted below its exercise value.
  if (o.exercise === 'american' && price < exerciseValue(o)) return { ok: false, reason: 'below-intrinsic' };
  if (o.model === 'normal') {
    return impliedNormalVolatility({ side, forward: o.underlying, strike, timeToExpiry, discountFactor, price });
  }
  const forward = o.underlying * Math.exp((rate - carryYield(o)) * timeToExpiry);
  if (!(forward > 0 && forward < Infinity)) return { ok: false, reason: 'not-converged' };
  // Forward and discount factor are rounded here, so a price within their roundings of intrinsic is equal to it.
  const intrinsic = discountFactor * Math.max(side === 'call' ? forward - strike : strike - forward, 0);
  if (intrinsic > 0 && Math.abs(price - intrinsic) <= intrinsicRounding(o, { forward, discountFactor })) {
    return { ok: true, volatility: 0 };
  }
  return impliedVolatility({ side, forward, strike, timeToExpiry, discountFactor, price });
}

/**
 * By how much two computations of a discounted intrinsic value differ: the roundings of the exponentials in it, each in proportion
 * to its exponent, and of their products. A rate of nothing has neither, and there every bit of a price counts.
 */
function intrinsicRounding(
  o: Option,
  { forward, discountFactor }: { forward: number; discountFactor: number },
): number {
  const { strike, rate, timeToExpiry: T } = o;
  const rateExponent = Math.abs(rate * T);
  if (o.model !== 'spot') {
    return rateExponent === 0 ? 0 : Number.EPSILON * (1 + rateExponent) * discountFactor * Math.abs(forward - strike);
  }
  const carry = carryYield(o);
  const yieldExponent = Math.abs(carry * T);
  const driftExponent = Math.abs((rate - carry) * T);
  const ofSpot =
    yieldExponent === 0 && driftExponent === 0
      ? 0
      : (1 + yieldExponent + driftExponent) * o.underlying * Math.exp(-carry * T);
  const ofStrike = rateExponent === 0 ? 0 : (1 + rateExponent) * strike * discountFactor;
  return Number.EPSILON * (ofSpot + ofStrike);
}

/** No volatility brings a price to this: the whole underlying, or the whole strike, at the better of now and expiry. */
function upperBound(o: Option): number {
  if (o.model === 'normal') return Infinity;
  const isAmerican = o.exercise === 'american';
  const atExpiry = Math.exp(-(o.side === 'call' ? carryYield(o) : o.rate) * o.timeToExpiry);
  const whole = o.side === 'call' ? o.underlying : o.strike;
  return whole * (isAmerican ? Math.max(1, atExpiry) : atExpiry);
}

/** Secant steps inside a bracket; a step that leaves it, or does not halve it in three, becomes a bisection. */
function search(o: Option, price: number, accuracy: Accuracy): ImpliedVolatilityResult {
  const root = Math.sqrt(o.timeToExpiry);
  const unit = o.model === 'normal' ? Math.max(price, Math.abs(o.underlying - o.strike)) : 1;
  const missAt = (volatility: number) => optionPrice({ ...o, volatility }, accuracy) - price;
  let low = 0;
  let high = (LARGEST_DEVIATION * unit) / root;
  const european = closedFormImpliedVolatility({ ...o, dividends: undefined }, price);
  let x =
    european.ok && european.volatility > 0 && european.volatility < high ? european.volatility : (0.3 * unit) / root;
  if (o.model !== 'normal' && !(european.ok && european.volatility > 0)) x = Math.min(0.3, 0.5 * high);
  let previous = NaN;
  let previousMiss = NaN;
  let older = Infinity;
  for (let step = 0; step < MOST_STEPS; step++) {
    const miss = missAt(x);
    if (miss === 0) return { ok: true, volatility: x };
    if (miss > 0) high = x;
    else low = x;
    const slope = Number.isNaN(previous)
      ? (missAt(1.001 * x) - miss) / (0.001 * x)
      : (miss - previousMiss) / (x - previous);
    let next = slope > 0 ? x - miss / slope : NaN;
    const isSlow = step % 3 === 2 && high - low > 0.5 * older;
    if (step % 3 === 2) older = high - low;
    if (!(next > low && next < high) || (isSlow && high - low > 0.1 * high)) next = 0.5 * (low + high);
    previous = x;
    previousMiss = miss;
    if (Math.abs(next - x) <= VOLATILITY_TOLERANCE * x || high - low <= VOLATILITY_TOLERANCE * high) {
      return { ok: true, volatility: next };
    }
    x = next;
  }
  return { ok: false, reason: 'not-converged' };
}
