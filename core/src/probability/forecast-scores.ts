import { chiSquaredTail } from '../math/index.ts';

/** A probability that was told, and whether it came true. */
export interface ToldOdds {
  probability: number;
  cameTrue: boolean;
}

/** Mean squared distance of probabilities from what came: 0 is perfect, 0.25 is always saying a half. @see Brier, G. W. (1950). Verification of forecasts expressed in terms of probability. Monthly Weather Review 78(1), 1-3. */
export function brierScore(told: readonly ToldOdds[]): number {
  return mean(told, ({ probability: p, cameTrue }) => (p - (cameTrue ? 1 : 0)) ** 2);
}

/** Probabilities nearer to 0 or 1 than this are scored as if they were this: no finite record tells them apart. */
const NEAREST = 1e-6;

/** Mean of minus the logarithm of the probability told of what came: 0 is perfect, 0.693 is always saying a half. @see Good, I. J. (1952). Rational decisions. Journal of the Royal Statistical Society B 14(1), 107-114. */
export function logScore(told: readonly ToldOdds[]): number {
  return mean(told, ({ probability, cameTrue }) => {
    const p = Math.min(Math.max(probability, NEAREST), 1 - NEAREST);
    return -Math.log(cameTrue ? p : 1 - p);
  });
}

function mean(told: readonly ToldOdds[], score: (odds: ToldOdds) => number): number {
  return told.length === 0 ? NaN : told.reduce((sum, odds) => sum + score(odds), 0) / told.length;
}

/** Probabilities told of one band, and how often they came true. */
export interface ReliabilityBin {
  from: number;
  to: number;
  count: number;
  /** Mean of the probabilities told; NaN where there are none */
  told: number;
  /** Share that came true */
  came: number;
}

/** Told against came, in bands of equal width; the last holds 1. */
export function reliability(told: readonly ToldOdds[], bands = 10): ReliabilityBin[] {
  const bandOf = (p: number) => Math.min(bands - 1, Math.floor(p * bands));
  return Array.from({ length: bands }, (_, band) => {
    const own = told.filter(({ probability }) => bandOf(probability) === band);
    return {
      from: band / bands,
      to: (band + 1) / bands,
      count: own.length,
      told: own.length === 0 ? NaN : own.reduce((sum, { probability }) => sum + probability, 0) / own.length,
      came: own.length === 0 ? NaN : own.filter(({ cameTrue }) => cameTrue).length / own.length,
    };
  });
}

/** How evenly what came fell over a law's own quantiles. */
export interface Evenness {
  counts: number[];
  chiSquared: number;
  /** Chance of a figure as high where the law is right */
  chance: number;
}

/**
 * Whether outcomes fall evenly over the quantiles of the laws that told of them: each law's probability to end below what came is
 * uniform where the law is right.
 * @param places the probability that each law gave to what came or less, 0 to 1; of windows that do not overlap
 * @see Diebold, F. X., Gunther, T. A. & Tay, A. S. (1998). Evaluating density forecasts with applications to financial risk
 *   management. International Economic Review 39(4), 863-883; Pearson's chi-squared over equal bins.
 */
export function evenness(places: readonly number[], bins = 10): Evenness {
  const counts = new Array<number>(bins).fill(0);
  for (const place of places) counts[Math.min(bins - 1, Math.max(0, Math.floor(place * bins)))]++;
  const expected = places.length / bins;
  const chiSquared = counts.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0);
  return { counts, chiSquared, chance: chiSquaredTail(chiSquared, bins - 1) };
}
