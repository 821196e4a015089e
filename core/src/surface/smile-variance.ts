import { gaussLegendre, normalDensity } from '../math/index.ts';
import type { Smile } from './smile.ts';
import { bracket, volatilityBetween } from './variance-index.ts';

/** Beyond so many standard normal deviations nothing counts: 2 N(-8) is 1e-15. */
const FARTHEST = 8;
/** Panels in log-moneyness with Gauss-Legendre points in each: raw SVI agrees with the strip of all options to 1e-8. */
const PANELS = 32;
const { nodes: NODES, weights: WEIGHTS } = gaussLegendre(8);
/** More of the variance than this beyond the quotes makes it the wings' invention. */
const MOST_BEYOND = 0.15;
const MOST_ROUNDS = 80;

export interface SmileVariance {
  /** Annual variance of all strikes */
  variance: number;
  /** Share of it that lies beyond the quotes */
  beyond: number;
}

/**
 * Model-free variance of a whole fitted smile: the mean of squared volatility over standard normal d2, which is the
 * variance swap's where prices move without jumps.
 * @param range log-moneyness of the quotes
 * @returns undefined where d2 does not fall from strike to strike, as in a wing steeper than prices allow
 * @see Gatheral, J. (2006). The Volatility Surface, chapter 11, equation 11.5.
 */
export function smileVariance(smile: Smile, range: readonly [number, number]): SmileVariance | undefined {
  const low = reach(smile, -1);
  const high = reach(smile, 1);
  if (low === undefined || high === undefined) return undefined;
  const inner = [Math.max(low, range[0]), Math.min(high, range[1])];
  // The quotes' ends are edges of panels, so that what lies beyond them is counted apart.
  const parts = [
    integrate(smile, low, inner[0]),
    integrate(smile, inner[0], inner[1]),
    integrate(smile, inner[1], high),
  ];
  if (parts.some((part) => part === undefined)) return undefined;
  const [below, between, above] = parts as { variance: number; mass: number }[];
  const total = below.variance + between.variance + above.variance;
  const mass = below.mass + between.mass + above.mass;
  return { variance: total / mass, beyond: (below.variance + above.variance) / total };
}

/** Log-moneyness on a side of the forward beyond which the law has no mass; undefined where a wing never gets there. */
function reach(smile: Smile, side: 1 | -1): number | undefined {
  let step = Math.sqrt(Math.max(smile.totalVariance(0), 1e-16));
  let k = side * step;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const deviation = Math.sqrt(Math.max(smile.totalVariance(k), 1e-16));
    if (Math.abs(-k / deviation - 0.5 * deviation) >= FARTHEST) return k;
    step *= 1.1;
    k += side * step;
  }
  return undefined;
}

/** Integral of volatility squared over the law of d2 between two places, and the law's mass there. */
function integrate(smile: Smile, from: number, to: number): { variance: number; mass: number } | undefined {
  let variance = 0;
  let mass = 0;
  if (!(to > from)) return { variance, mass };
  const half = (to - from) / (2 * PANELS);
  for (let panel = 0; panel < PANELS; panel++) {
    const middle = from + (2 * panel + 1) * half;
    for (let i = 0; i < NODES.length; i++) {
      const k = middle + half * NODES[i];
      const w = smile.totalVariance(k);
      const deviation = Math.sqrt(w);
      const d2 = -k / deviation - 0.5 * deviation;
      const deviationSlope = smile.slope(k) / (2 * deviation);
      const fall = 1 / deviation - (k * deviationSlope) / w + 0.5 * deviationSlope;
      if (!(fall > 0)) return undefined;
      const weight = half * WEIGHTS[i] * normalDensity(d2) * fall;
      mass += weight;
      variance += (weight * w) / smile.timeToExpiry;
    }
  }
  return { variance, mass };
}

/**
 * Variance of whole smiles as a volatility to a horizon, between the expiries around it.
 * @returns null unless an expiry lies on each side of the horizon, and where more than 15 % of an expiry's lies beyond its quotes
 */
export function completedIndex(
  expiries: readonly { smile: Smile; range: readonly [number, number] }[],
  horizon: number,
): number | null {
  const around = bracket(expiries, horizon, (e) => e.smile.timeToExpiry);
  if (!around) return null;
  const [near, next] = around.map(({ smile, range }) => {
    const found = smileVariance(smile, range);
    return found && found.beyond <= MOST_BEYOND
      ? { timeToExpiry: smile.timeToExpiry, variance: found.variance }
      : undefined;
  });
  return near && next ? volatilityBetween(near, next, horizon) : null;
}
