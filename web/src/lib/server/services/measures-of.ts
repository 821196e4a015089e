import { type Surface, termVolatility } from '@umwelt/core/surface';
import { closeToCloseVolatility } from '@umwelt/core/volatility';
import type { StoredMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';

/** Raise when the derivation changes: stored measures of another version are made again by a job. */
export const DERIVATION_VERSION = 3;
export const TENOR_DAYS = [7, 14, 30, 60, 90, 180, 365];
/** Sessions of the realized windows: half a month, a month, a quarter, a year */
export const REALIZED_WINDOWS = [10, 21, 63, 252];
/** Close-to-close needs one close more. */
export const CLOSES_NEEDED = Math.max(...REALIZED_WINDOWS) + 1;

/**
 * What is kept of one derived instant.
 * @param closes daily closes up to the instant, its own price last
 */
export function measuresOf(surface: Surface, rows: StoredSlice[], closes: readonly number[]): StoredMeasures {
  const distance = (e: Surface['expiries'][number]) => Math.abs(e.slice.timeToExpiry * 365 - 30);
  const nearest = surface.expiries.reduce((best, e) => (distance(e) < distance(best) ? e : best));
  const { underlyingId, instant, underlyingPrice } = rows[0];
  const rejected: Record<string, number> = {};
  let quotes = 0;
  for (const { verdicts } of surface.expiries) {
    for (const verdict of [...verdicts.call, ...verdicts.put]) {
      quotes++;
      if (verdict) rejected[verdict] = (rejected[verdict] ?? 0) + 1;
    }
  }
  return {
    underlyingId,
    instant,
    version: DERIVATION_VERSION,
    underlyingPrice,
    atmByTenor: TENOR_DAYS.map((days) => termVolatility(surface.term, days / 365)),
    index30: surface.index30,
    riskReversal25: nearest.measures?.riskReversal25 ?? null,
    butterfly25: nearest.measures?.butterfly25 ?? null,
    realizedByWindow: REALIZED_WINDOWS.map((window) => closeToCloseVolatility(closes, window)),
    optionVolume: sumOf(rows, 'callVolume') + sumOf(rows, 'putVolume'),
    openInterest: sumOf(rows, 'callOpenInterest') + sumOf(rows, 'putOpenInterest'),
    quotes,
    rejected,
  };
}

type Counted = 'callVolume' | 'putVolume' | 'callOpenInterest' | 'putOpenInterest';

function sumOf(rows: StoredSlice[], column: Counted): number {
  let sum = 0;
  for (const row of rows) for (const value of row[column]) if (value > 0) sum += value;
  return sum;
}
