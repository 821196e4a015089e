import { deriveSurface, type Slice, type Surface } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import type { AsOfContext } from '../../schema/as-of-context.ts';
import type { RateCurve } from '../repositories/rate-curves.ts';
import type { StoredSlice } from '../repositories/slices.ts';

/** Columns of a stored slice as the core's typed arrays. */
export function coreSlice(row: StoredSlice): Slice {
  return {
    timeToExpiry: calendarYears(row.instant.getTime(), row.expiry.getTime()),
    strikes: Float64Array.from(row.strikes),
    callBid: Float64Array.from(row.callBid),
    callAsk: Float64Array.from(row.callAsk),
    putBid: Float64Array.from(row.putBid),
    putAsk: Float64Array.from(row.putAsk),
  };
}

/** Rate for a number of days, linear between the curve's points, flat outside. */
export function curveRate(curve: RateCurve, days: number): number {
  const next = curve.days.findIndex((d) => d >= days);
  if (next <= 0) return curve.rates[next === 0 ? 0 : curve.rates.length - 1];
  const share = (days - curve.days[next - 1]) / (curve.days[next] - curve.days[next - 1]);
  return curve.rates[next - 1] + share * (curve.rates[next] - curve.rates[next - 1]);
}

/** Surface of an underlying's stored slices of one instant, nearest expiry first. */
export function deriveStored(
  rows: StoredSlice[],
  o: { dateOf: (expiry: Date) => string; curve?: RateCurve } & Pick<AsOfContext, 'forwardSource' | 'restored'>,
): Surface {
  const slices = rows.map(coreSlice);
  return deriveSurface({
    slices,
    spot: rows[0].underlyingPrice,
    rates: o.curve && slices.map((s) => curveRate(o.curve as RateCurve, s.timeToExpiry * 365)),
    forwardSource: o.forwardSource,
    restored: rows.map((row) => o.restored.filter((r) => r.expiry === o.dateOf(row.expiry))),
  });
}
