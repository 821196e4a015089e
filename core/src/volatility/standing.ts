/** Where a value stands within its own past. */
export interface Standing {
  /** (now - low) / (high - low), 0 to 1; NaN when the past never moved */
  rank: number;
  /** Share of past values below the present one, 0 to 1 */
  percentile: number;
  /** Number of past values below the present one */
  below: number;
  low: number;
  high: number;
  /** Number of past values */
  count: number;
}

/**
 * Rank and percentile of a value against its past (common practice, no source).
 * @param past earlier values, in any order, without the present one; NaN entries are skipped
 * @returns undefined with fewer than two past values
 * @example standing(40, [10, 70, 20]) // rank 0.5, percentile 2/3
 */
export function standing(now: number, past: ArrayLike<number>): Standing | undefined {
  let low = now;
  let high = now;
  let count = 0;
  let below = 0;
  for (let i = 0; i < past.length; i++) {
    const value = past[i];
    if (Number.isNaN(value)) continue;
    count++;
    if (value < now) below++;
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  if (count < 2 || Number.isNaN(now)) return undefined;
  return { rank: (now - low) / (high - low), percentile: below / count, below, low, high, count };
}
