import type { Surface } from '@umwelt/core/surface';
import { TENOR_DAYS } from '../../market/index.ts';
import { closeToCloseVolatility } from '@umwelt/core/volatility';
import type { RowSource, StoredSmile } from '../database/schema.ts';
import type { StoredMeasures } from '../repositories/measures.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';

/** Raise when the derivation changes: stored measures of another version are made again by a job. */
export const DERIVATION_VERSION = 10;
/** Sessions of the realized windows: half a month, a month, a quarter, a year */
export const REALIZED_WINDOWS = [10, 21, 63, 252];
/** Close-to-close needs one close more. */
export const CLOSES_NEEDED = Math.max(...REALIZED_WINDOWS) + 1;

/**
 * What is kept of one derived instant.
 * @param closes daily closes up to the instant, its own price last
 */
export function measuresOf(
  surface: Surface,
  rows: StoredSlice[],
  closes: readonly number[],
  source: RowSource,
): StoredMeasures {
  const { underlyingId, instant, underlyingPrice } = rows[0];
  const rejected: Record<string, number> = {};
  let quotes = 0;
  for (const { verdicts } of surface.expiries) {
    for (const verdict of [...verdicts.call, ...verdicts.put]) {
      quotes++;
      if (verdict) rejected[verdict] = (rejected[verdict] ?? 0) + 1;
    }
  }
  const month = surface.volatility?.constantMaturity(30 / 365);
  return {
    underlyingId,
    instant,
    version: DERIVATION_VERSION,
    underlyingPrice,
    atmByTenor: TENOR_DAYS.map((days) => surface.volatility?.volatilityAt(days / 365, { logMoneyness: 0 }) ?? NaN),
    index30: surface.index30,
    riskReversal25: finiteOrNull(month?.riskReversal25),
    butterfly25: finiteOrNull(month?.butterfly25),
    impliedFinancing: surface.carry?.rate.value ?? null,
    impliedBorrow: surface.carry?.borrow.value ?? null,
    impliedDividends: surface.carry?.dividends.map((d) => ({ amount: d.amount.value, years: d.time.value })) ?? null,
    smiles: surface.expiries.flatMap((e, i) => storedSmile(e, rows[i].expiry)),
    realizedByWindow: REALIZED_WINDOWS.map((window) => closeToCloseVolatility(closes, window)),
    optionVolume: sumOf(rows, 'callVolume') + sumOf(rows, 'putVolume'),
    openInterest: sumOf(rows, 'callOpenInterest') + sumOf(rows, 'putOpenInterest'),
    quotes,
    rejected,
    source,
  };
}

/** The smile of an expiry as it is kept for replay; none of an outlier or of a flat level. */
function storedSmile(e: Surface['expiries'][number], expiry: Date): StoredSmile[] {
  if (e.outlier || !e.smile || e.smile.description.model === 'flat') return [];
  return [
    {
      expiry: expiry.toISOString(),
      years: e.slice.timeToExpiry,
      forward: e.forward.forward,
      smile: e.smile.description,
      range: e.smile.range,
    },
  ];
}

type Counted = 'callVolume' | 'putVolume' | 'callOpenInterest' | 'putOpenInterest';

function sumOf(rows: StoredSlice[], column: Counted): number {
  let sum = 0;
  for (const row of rows) for (const value of row[column]) if (value > 0) sum += value;
  return sum;
}
