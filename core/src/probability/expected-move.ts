import { expectedAbsoluteMove, smileVariance, smileVolatility } from '../surface/index.ts';
import { lawAbove, lawQuantile, type PriceLaw } from './price-law.ts';

/** How far the price is thought to go by expiry, and how often it ends within that under the smile's law. */
export interface ExpectedMove {
  /** From the forward to either side, price; NaN where it is not known, or where the sides differ */
  move: number;
  low: number;
  high: number;
  /** Probability to end between */
  coverage: number;
}

/** Forward give or take a move. @param move price; NaN where it is not known */
export function symmetricMove(law: PriceLaw, move: number): ExpectedMove {
  const [low, high] = [law.forward - move, law.forward + move];
  return { move, low, high, coverage: coverageBetween(law, low, high) };
}

/**
 * The middle part of the law: as much of the probability lies below it as above.
 * @param coverage 0 to 1 exclusive
 */
export function centralRange(law: PriceLaw, coverage: number): ExpectedMove {
  const tail = 0.5 * (1 - coverage);
  return { move: NaN, low: lawQuantile(law, tail), high: lawQuantile(law, 1 - tail), coverage };
}

/** Probability to end between two prices; the lower may be below 0. */
export function coverageBetween(law: PriceLaw, low: number, high: number): number {
  return (low > 0 ? lawAbove(law, low) : 1) - lawAbove(law, high);
}

/** One standard deviation of volatility at the money, price: F sigma sqrt(T). */
export function oneDeviation({ smile, forward }: PriceLaw): number {
  return forward * smileVolatility(smile, 0) * Math.sqrt(smile.timeToExpiry);
}

/** Mean absolute distance from the forward at expiry: the undiscounted straddle struck there. */
export function meanAbsolute({ smile, forward }: PriceLaw): number {
  return expectedAbsoluteMove(smile, forward);
}

/**
 * The move of a variance swap, price: F times the root of the variance of the whole smile to expiry.
 * @returns NaN where a wing allows arbitrage, for then there is none
 */
export function varianceMove({ smile, forward, range }: PriceLaw): number {
  const found = smileVariance(smile, range);
  return found ? forward * Math.sqrt(found.variance * smile.timeToExpiry) : NaN;
}
