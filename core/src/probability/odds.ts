import { findRoot, normalQuantile } from '../math/index.ts';
import type { Side } from '../pricing/index.ts';
import { logMoneynessAtDelta } from '../surface/index.ts';
import { type HistoryPaths, pathsAbove, pathsTouching } from './history-paths.ts';
import { lawAbove, lawQuantile, type PriceLaw } from './price-law.ts';
import { touchOnSmile } from './touch-on-smile.ts';
import { type ConstantLaw, finishAbove, type TouchLevels, touchProbability } from './touch-probability.ts';

/** What one source says of the price until expiry. */
export interface Odds {
  /** Probability to end below a price, > 0 */
  below(price: number): number;
  /** Probability to reach a level on the way; never less than that of ending beyond it */
  touch(levels: TouchLevels): number;
  /** Price below which it ends with a probability; NaN where the source does not reach it */
  quantile(probability: number): number;
  /** Price at which an option of a side has an undiscounted forward delta, absolute; NaN where there is none */
  strikeAtDelta(side: Side, delta: number): number;
  /** One standard deviation of a probability; absent where it is exact under the source's own law */
  errorOf?(probability: number): number;
}

/** Odds of constant volatility, in closed form. */
export function constantOdds(law: ConstantLaw): Odds {
  const deviation = law.volatility * Math.sqrt(law.timeToExpiry);
  const forward = law.spot * Math.exp(law.drift * law.timeToExpiry);
  const at = (z: number) => forward * Math.exp(z * deviation - 0.5 * deviation * deviation);
  return {
    below: (price) => 1 - finishAbove(law, price),
    touch: (levels) => touchProbability(law, levels),
    quantile: (probability) => at(normalQuantile(probability)),
    // N(d1) of the call is delta, of the put 1 - delta.
    strikeAtDelta: (side, delta) =>
      forward * Math.exp(0.5 * deviation * deviation - deviation * normalQuantile(side === 'call' ? delta : 1 - delta)),
  };
}

/** Odds of a smile: with the slope term at expiry, and on the way with continuous paths. @param spot price now, > 0 */
export function smileOdds(law: PriceLaw, spot: number): Odds {
  const below = (price: number) => 1 - lawAbove(law, price);
  return {
    below,
    touch: (levels) => Math.max(touchOnSmile({ ...law, spot }, levels), endsBeyond(below, levels)),
    quantile: (probability) => lawQuantile(law, probability),
    strikeAtDelta: (side, delta) => law.forward * Math.exp(logMoneynessAtDelta(law.smile, side, delta)),
  };
}

/** Odds of drawn paths. @param spot price now, > 0 */
export function historyOdds(paths: HistoryPaths, spot: number): Odds {
  const sorted = Float64Array.from(paths.end).sort();
  return {
    below: (price) => 1 - pathsAbove(paths, spot, price).probability,
    touch: (levels) => pathsTouching(paths, spot, levels).probability,
    quantile: (probability) =>
      probability > 0 && probability < 1 ? spot * Math.exp(sorted[Math.floor(probability * sorted.length)]) : NaN,
    // A path has no delta: that of a law is not among what was drawn.
    strikeAtDelta: () => NaN,
    errorOf: (probability) => Math.sqrt((probability * (1 - probability)) / sorted.length),
  };
}

function endsBeyond(below: (price: number) => number, { lower, upper }: TouchLevels): number {
  return (lower === undefined ? 0 : below(lower)) + (upper === undefined ? 0 : 1 - below(upper));
}

/** What is to have the probability: that the option ends in the money, that its strike is touched, or its delta. */
export type StrikeGoal = 'itm' | 'touch' | 'delta';

/** On the price, share of it. */
const STRIKE_TOLERANCE = 1e-7;
/** A strike to be touched is looked for as far out as ends with this probability. */
const LEAST_REACHED = 1e-9;

/**
 * Strike of a put or a call for a probability.
 * @param probability 0 to 1 exclusive
 * @param spot price now: a level touched with a probability lies on the put's side below it, on the call's above
 * @returns NaN where the source does not reach it
 */
export function strikeForProbability(
  odds: Odds,
  o: { side: Side; goal: StrikeGoal; probability: number; spot: number },
): number {
  const { side, goal, probability, spot } = o;
  if (!(probability > 0 && probability < 1)) return NaN;
  if (goal === 'itm') {
    const strike = odds.quantile(side === 'put' ? probability : 1 - probability);
    // Of a chance too small to be told from none.
    return strike < Infinity ? strike : NaN;
  }
  if (goal === 'delta') return odds.strikeAtDelta(side, probability);
  const far = odds.quantile(side === 'put' ? LEAST_REACHED : 1 - LEAST_REACHED);
  if (Number.isNaN(far)) return NaN;
  const miss = (price: number) => odds.touch(side === 'put' ? { lower: price } : { upper: price }) - probability;
  const found = findRoot(miss, {
    low: Math.min(far, spot),
    high: Math.max(far, spot),
    tolerance: STRIKE_TOLERANCE * spot,
  });
  return found.ok ? found.root : NaN;
}
