import { butterflyArbitrage, calendarArbitrage, outerRange, STEEPEST_WING } from './arbitrage.ts';
import type { Smile } from './smile.ts';
import { type SviRawParameters, sviRawSmile } from './svi-raw.ts';

export interface ClearedSviInput {
  /** Volatilities whose mean square is the level toward which the smile is flattened */
  points: readonly { volatility: number }[];
  timeToExpiry: number;
  /** Log-moneyness range of the quotes */
  range: readonly [number, number];
  /** Nearer smile below which this one must not fall, over a range of log-moneyness */
  near?: { smile: Smile; range: readonly [number, number] };
}

/** Halvings of the share by which a smile is flattened. */
const BLENDS = 30;

/**
 * The smile flattened toward its mean level and raised above the nearer expiry, by as little flattening as leaves no
 * butterfly that pays. (Raising alone may make one: the density depends on slope over total variance and on their product.)
 */
export function clearedSvi(p: SviRawParameters, o: ClearedSviInput): SviRawParameters {
  const isFree = (q: SviRawParameters) =>
    q.b * (1 + Math.abs(q.rho)) <= STEEPEST_WING &&
    butterflyArbitrage(sviRawSmile(q, o.timeToExpiry), outerRange(o.range)).length === 0;
  const flat = o.points.reduce((sum, q) => sum + q.volatility ** 2, 0) * (o.timeToExpiry / o.points.length);
  const flattened = (share: number): SviRawParameters =>
    raised({ ...p, a: (1 - share) * p.a + share * flat, b: (1 - share) * p.b }, o);
  const least = raised(p, o);
  if (isFree(least)) return least;
  let low = 0;
  let high = 1;
  for (let i = 0; i < BLENDS; i++) {
    const middle = 0.5 * (low + high);
    if (isFree(flattened(middle))) high = middle;
    else low = middle;
  }
  return flattened(high);
}

/** The smile raised until no calendar against the nearer expiry pays. */
function raised(p: SviRawParameters, { near, timeToExpiry }: ClearedSviInput): SviRawParameters {
  if (!near) return p;
  const smile = sviRawSmile(p, timeToExpiry);
  const short = calendarArbitrage(near.smile, smile, near.range);
  if (short.length === 0) return p;
  return { ...p, a: p.a + Math.max(...short.map((k) => near.smile.totalVariance(k) - smile.totalVariance(k))) };
}
