import { findRoot, normalCdf } from '../math/index.ts';

/** An option a session ahead: what it is worth then at a price of the underlying. */
export interface NextSession {
  /** Price now */
  spot: number;
  /** Expected price a session ahead */
  forward: number;
  /** Standard deviation of the logarithm of the price over that session, > 0 */
  deviation: number;
  /** Value of the option now */
  value: number;
  /** Its value a session ahead at a price of the underlying: rises or falls throughout, as of one call or put */
  valueThen: (spot: number) => number;
}

/** Deviations on either side within which a price is looked for. */
const REACH = 8;
/** On the price, share of it. */
const TOLERANCE = 1e-9;

/** Where the next session must take the price for an option to be worth what it is now, and how likely it goes there. */
export interface OutEarned {
  /** NaN where no price within eight deviations suffices, or every one does */
  price: number;
  probability: number;
}

/**
 * Probability that the move of the next session brings an option's value above today's, after what the day takes. The move is
 * lognormal with a deviation of its own.
 */
export function outEarnsDecay({ spot, forward, deviation, value, valueThen }: NextSession): OutEarned {
  const [low, high] = [-REACH, REACH].map((n) => spot * Math.exp(n * deviation));
  const gain = (price: number) => valueThen(price) - value;
  const [atLow, atHigh] = [gain(low), gain(high)];
  if (atLow > 0 && atHigh > 0) return { price: NaN, probability: 1 };
  if (atLow <= 0 && atHigh <= 0) return { price: NaN, probability: 0 };
  const found = findRoot(gain, { low, high, tolerance: TOLERANCE * spot });
  if (!found.ok) return { price: NaN, probability: NaN };
  const above = normalCdf(Math.log(forward / found.root) / deviation - 0.5 * deviation);
  return { price: found.root, probability: atHigh > 0 ? above : 1 - above };
}
