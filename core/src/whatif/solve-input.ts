import { findRoot } from '../math/index.ts';
import { type Accuracy, checkOption, type Option, optionDelta, optionPrice, requireRange } from '../pricing/index.ts';
import { dividendsWithin } from './dividends-within.ts';

/** The input that was looked for; `no-solution` when no value of it reaches the target. */
export type SolveResult = { ok: true; value: number } | { ok: false; reason: 'no-solution' | 'not-converged' };

/** Relative to the strike (and the price to be met): what a found input may leave of the target. */
const PRICE_TOLERANCE = 1e-8;
const DELTA_TOLERANCE = 1e-7;
/** Relative to the strike: a change of value this small is none. */
const ROUNDING = 1e-14;
/** Relative, on the input looked for. */
const INPUT_TOLERANCE = 1e-13;
/** Reach of a search in standard deviations. */
const REACH = 12;
const LARGEST_REACH = 60;
/** Steps of the remaining time in which the first crossing is looked for. */
const TIME_STEPS = 48;
const LARGEST_VOLATILITY_FACTOR = 1e4;

/**
 * Price of the underlying at which the option is worth `price`.
 * @param price per unit of underlying, > 0
 * @throws RangeError outside the ranges of {@link Option}, or for a price that is not finite
 */
export function underlyingForPrice(o: Option, price: number, accuracy: Accuracy = 'fine'): SolveResult {
  checkOption(o);
  requireRange('price', price);
  const toUnderlying = coordinate(o, o.strike);
  const miss = (x: number) => optionPrice({ ...o, underlying: toUnderlying(x) }, accuracy) - price;
  return searchAround(miss, toUnderlying, PRICE_TOLERANCE * (Math.abs(o.strike) + Math.abs(price)));
}

/**
 * Strike at which the option has the delta `delta`, negative for a put.
 * @throws RangeError outside the ranges of {@link Option}, or for a delta that is not finite
 */
export function strikeForDelta(o: Option, delta: number, accuracy: Accuracy = 'fine'): SolveResult {
  checkOption(o);
  requireRange('delta', delta);
  if (o.side === 'call' ? delta <= 0 : delta >= 0) return { ok: false, reason: 'no-solution' };
  const toStrike = coordinate(o, o.underlying);
  const miss = (x: number) => optionDelta({ ...o, strike: toStrike(x) }, accuracy) - delta;
  return searchAround(miss, toStrike, DELTA_TOLERANCE);
}

/** Maps deviations from a centre to a price: lognormally, or additively in the normal model. */
function coordinate(o: Option, centre: number): (x: number) => number {
  const s = Math.max(o.volatility * Math.sqrt(o.timeToExpiry), o.model === 'normal' ? 1e-6 * Math.abs(centre) : 1e-6);
  return o.model === 'normal' ? (x) => centre + s * x : (x) => centre * Math.exp(Math.max(-600, Math.min(600, s * x)));
}

function searchAround(miss: (x: number) => number, toInput: (x: number) => number, allowed: number): SolveResult {
  for (let reach = REACH; reach <= LARGEST_REACH; reach *= 2.2) {
    const found = findRoot(miss, { low: -reach, high: reach, tolerance: INPUT_TOLERANCE * reach });
    if (found.ok) {
      return Math.abs(miss(found.root)) <= allowed
        ? { ok: true, value: toInput(found.root) }
        : { ok: false, reason: 'no-solution' };
    }
    if (found.reason === 'not-converged') return { ok: false, reason: 'not-converged' };
  }
  return { ok: false, reason: 'no-solution' };
}

/** The option when `passed` years have gone and nothing else has changed; dividends gone ex by then are left out. */
export function optionLater(o: Option, passed: number): Option {
  const timeToExpiry = Math.max(0, o.timeToExpiry - passed);
  return { ...o, timeToExpiry, dividends: dividendsWithin(o.dividends, timeToExpiry, passed) };
}

/**
 * Years until the option is worth `price`, all else unchanged: the first such time up to expiry.
 * @throws RangeError outside the ranges of {@link Option}, or for a price that is not finite
 */
export function timeUntilPrice(o: Option, price: number, accuracy: Accuracy = 'fine'): SolveResult {
  checkOption(o);
  requireRange('price', price);
  const miss = (passed: number) => optionPrice(optionLater(o, passed), accuracy) - price;
  const allowed = PRICE_TOLERANCE * (Math.abs(o.strike) + Math.abs(price));
  let before = miss(0);
  if (Math.abs(before) <= allowed) return { ok: true, value: 0 };
  for (let step = 1; step <= TIME_STEPS; step++) {
    // Steps shorten toward expiry, where value falls fastest.
    const low = o.timeToExpiry * (1 - (1 - (step - 1) / TIME_STEPS) ** 2);
    const high = o.timeToExpiry * (1 - (1 - step / TIME_STEPS) ** 2);
    const after = miss(high);
    if (before * after <= 0) {
      const found = findRoot(miss, { low, high, tolerance: INPUT_TOLERANCE * o.timeToExpiry });
      // A fall of value at an ex-date can jump over the target.
      if (found.ok && Math.abs(miss(found.root)) <= allowed) return { ok: true, value: found.root };
    }
    before = after;
  }
  return { ok: false, reason: 'no-solution' };
}

/**
 * Rise of volatility, in the option's own units per 1.00, that makes up for `passed` years of decay.
 * @param passed years, >= 0
 * @throws RangeError outside the ranges of {@link Option}
 */
export function volatilityToCancelDecay(o: Option, passed: number, accuracy: Accuracy = 'fine'): SolveResult {
  checkOption(o);
  requireRange('passed', passed, { minimum: 0 });
  const value = optionPrice(o, accuracy);
  const later = optionLater(o, passed);
  const miss = (volatility: number) => optionPrice({ ...later, volatility }, accuracy) - value;
  const allowed = PRICE_TOLERANCE * (Math.abs(o.strike) + value);
  const now = miss(o.volatility);
  if (Math.abs(now) <= ROUNDING * (Math.abs(o.strike) + value)) return { ok: true, value: 0 };
  if (later.timeToExpiry === 0 || o.volatility === 0) return { ok: false, reason: 'no-solution' };
  let [low, high] = [o.volatility, o.volatility];
  // The value rises with volatility; a deep option may gain with time, and then needs less of it.
  for (let factor = 1.5; factor < LARGEST_VOLATILITY_FACTOR; factor *= factor) {
    if (now <= 0) high = o.volatility * factor;
    else low = o.volatility / factor;
    if (miss(now <= 0 ? high : low) * now <= 0) {
      const found = findRoot(miss, { low, high, tolerance: INPUT_TOLERANCE * high });
      if (!found.ok) return { ok: false, reason: 'not-converged' };
      return Math.abs(miss(found.root)) <= allowed
        ? { ok: true, value: found.root - o.volatility }
        : { ok: false, reason: 'no-solution' };
    }
  }
  return { ok: false, reason: 'no-solution' };
}
