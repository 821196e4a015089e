import { findRoot, normalCdf } from '../math/index.ts';
import { black76Price, type Side } from '../pricing/index.ts';
import { probabilityAbove, riskNeutralDensity, type Smile, smileQuantile, smileVolatility } from '../surface/index.ts';
import { boundedWings, type WingRule } from './bounded-wings.ts';

/** What a smile says of the price at expiry. */
export interface PriceLaw {
  /** Expected price, > 0 */
  forward: number;
  /** With wings that allow no arbitrage */
  smile: Smile;
  /** ln(strike / forward) of the lowest and the highest quote */
  range: readonly [number, number];
  /** How the smile goes on below and above the quotes */
  wings: readonly [WingRule, WingRule];
}

/**
 * The law of the price at expiry that a smile implies, its wings bounded.
 * @param o.drift what the logarithm of the expected price is taken to gain on the forward to expiry: the shape of the law stays
 * @see Breeden, D. T. & Litzenberger, R. H. (1978). Prices of state-contingent claims implicit in option prices. Journal of
 *   Business 51(4), 621-651.
 */
export function priceLaw(o: {
  smile: Smile;
  forward: number;
  range: readonly [number, number];
  drift?: number;
}): PriceLaw {
  return { ...boundedWings(o.smile, o.range), forward: o.forward * Math.exp(o.drift ?? 0), range: o.range };
}

/** Probability that the price ends above a level. @param price > 0 */
export function lawAbove({ smile, forward }: PriceLaw, price: number): number {
  return probabilityAbove(smile, Math.log(price / forward));
}

/** Density of the price at expiry, per unit of price. @param price > 0 */
export function lawDensity({ smile, forward }: PriceLaw, price: number): number {
  return riskNeutralDensity(smile, forward, price);
}

/**
 * Mean of what an option pays at expiry, per unit of underlying, not discounted: Black's value at the volatility of its strike, which
 * is what the law comes from.
 */
export function lawPayoff({ smile, forward }: PriceLaw, side: Side, strike: number): number {
  const { timeToExpiry } = smile;
  const volatility = smileVolatility(smile, Math.log(strike / forward));
  return black76Price({ side, strike, forward, timeToExpiry, volatility, discountFactor: 1 });
}

/**
 * Price below which the underlying ends with a probability.
 * @param probability 0 to 1 exclusive
 * @returns NaN where the law does not reach it
 */
export function lawQuantile({ smile, forward }: PriceLaw, probability: number): number {
  return forward * Math.exp(smileQuantile(smile, probability));
}

/**
 * How far the probability to end beyond a price that no quote reaches may be from what the wing says: it is at least 0, and at
 * most what the last quotes allow, P(S < K) <= put(L) / (L - K) of the lowest strike L, and likewise above.
 * @returns 0 between the quotes
 */
export function wingError(law: PriceLaw, price: number): number {
  const { smile, forward, range } = law;
  const k = Math.log(price / forward);
  const side = k < range[0] ? -1 : k > range[1] ? 1 : 0;
  if (side === 0) return 0;
  const end = range[side < 0 ? 0 : 1];
  const strike = forward * Math.exp(end);
  const deviation = Math.sqrt(smile.totalVariance(end));
  const [d1, d2] = [-end / deviation + 0.5 * deviation, -end / deviation - 0.5 * deviation];
  // Undiscounted put of the lowest strike or call of the highest.
  const option =
    side < 0 ? strike * normalCdf(-d2) - forward * normalCdf(-d1) : forward * normalCdf(d1) - strike * normalCdf(d2);
  const beyond = (at: number) => (side < 0 ? 1 - lawAbove(law, at) : lawAbove(law, at));
  const most = Math.min(beyond(strike), option / Math.abs(strike - price));
  const told = beyond(price);
  return Math.max(told, most - told);
}

/** A place where the density is higher than around it. */
export interface Hump {
  price: number;
  /** Per unit of price */
  density: number;
}

/** Outer quantiles between which humps are looked for, and places between them. */
const HUMP_REACH = 0.001;
const HUMP_STEPS = 240;
/** A hump counts by itself where the density falls by this share between it and a higher one. */
const LEAST_DIP = 0.05;
/** On the price, share of the step. */
const HUMP_TOLERANCE = 1e-6;

/** The mode of a law, and further humps of its density that are no mere ripple; the highest first. */
export function humpsOf(law: PriceLaw): Hump[] {
  const [low, high] = [HUMP_REACH, 1 - HUMP_REACH].map((p) => lawQuantile(law, p));
  if (!(high > low)) return [];
  const step = (high - low) / HUMP_STEPS;
  const density = Array.from({ length: HUMP_STEPS + 1 }, (_, i) => lawDensity(law, low + i * step));
  const tops = density.flatMap((d, i) =>
    i > 0 && i < HUMP_STEPS && d > density[i - 1] && d >= density[i + 1]
      ? [{ i, price: top(law, low + i * step, step) }]
      : [],
  );
  const humps = tops.map(({ i, price }) => ({ i, price, density: lawDensity(law, price) }));
  humps.sort((a, b) => b.density - a.density);
  const kept: typeof humps = [];
  for (const hump of humps) {
    const isApart = kept.every((higher) => {
      const between = density.slice(Math.min(hump.i, higher.i), Math.max(hump.i, higher.i) + 1);
      return Math.min(...between) < (1 - LEAST_DIP) * hump.density;
    });
    if (isApart) kept.push(hump);
  }
  return kept.map(({ price, density: d }) => ({ price, density: d }));
}

/** Where the density stops rising, within a step of a place. */
function top(law: PriceLaw, near: number, step: number): number {
  const h = 1e-4 * step;
  const rise = (price: number) => lawDensity(law, price + h) - lawDensity(law, price - h);
  const found = findRoot(rise, { low: near - step, high: near + step, tolerance: HUMP_TOLERANCE * step });
  return found.ok ? found.root : near;
}
