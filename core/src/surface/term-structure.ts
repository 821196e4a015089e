export interface TermPoint {
  /** Years, > 0 */
  timeToExpiry: number;
  /** At-the-money volatility per year */
  volatility: number;
}

/**
 * At-the-money volatility at any time to expiry: linear in total variance between expiries, flat in volatility outside.
 * @param points ascending in time, at least one
 * @param time years, > 0
 */
export function termVolatility(points: TermPoint[], time: number): number {
  if (points.length === 0) return NaN;
  const next = points.findIndex((p) => p.timeToExpiry >= time);
  if (next <= 0) return points[next === 0 ? 0 : points.length - 1].volatility;
  const [a, b] = [points[next - 1], points[next]];
  const share = (time - a.timeToExpiry) / (b.timeToExpiry - a.timeToExpiry);
  const variance = (1 - share) * a.volatility ** 2 * a.timeToExpiry + share * b.volatility ** 2 * b.timeToExpiry;
  return Math.sqrt(variance / time);
}

export type ForwardVolatilityResult = { ok: true; volatility: number } | { ok: false; reason: 'negative-variance' };

/** Volatility between two expiries that their total variances imply; a falling total variance has none. */
export function forwardVolatility(near: TermPoint, far: TermPoint): ForwardVolatilityResult {
  const variance = far.volatility ** 2 * far.timeToExpiry - near.volatility ** 2 * near.timeToExpiry;
  if (variance < 0) return { ok: false, reason: 'negative-variance' };
  return { ok: true, volatility: Math.sqrt(variance / (far.timeToExpiry - near.timeToExpiry)) };
}

/** Name of a term structure: slope is the 90-day minus the 30-day volatility. */
export interface TermShape {
  name: 'contango' | 'backwardation' | 'flat' | 'humped';
  slope: number;
}

/** Half a volatility point; below it the term structure counts as flat. */
const FLAT_SLOPE = 0.005;
/** What stands this far above both its neighbours, or above both ends, is a hump. */
const HUMP = 0.01;

/**
 * Shape by rule: humped when an inner expiry stands more than 1 point above both neighbours, or above both ends, so that the
 * curve rises and falls; otherwise by the slope between the 30- and 90-day volatilities, flat within 0.5 points.
 * @param levelAt at-the-money volatility at any time; default by calendar time between the points
 */
export function termShape(points: TermPoint[], levelAt = (time: number) => termVolatility(points, time)): TermShape {
  const slope = levelAt(90 / 365) - levelAt(30 / 365);
  const level = points.map((p) => p.volatility);
  const ends = Math.max(level[0], level[level.length - 1]);
  for (let i = 1; i < level.length - 1; i++) {
    if (level[i] - Math.min(ends, Math.max(level[i - 1], level[i + 1])) > HUMP) return { name: 'humped', slope };
  }
  if (Math.abs(slope) <= FLAT_SLOPE) return { name: 'flat', slope };
  return { name: slope > 0 ? 'contango' : 'backwardation', slope };
}
