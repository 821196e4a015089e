import type { CashDividend } from '@umwelt/core/pricing';
import { type CarryInput, type DatedEvent, deriveSurface, type Slice, type Surface } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import type { DerivingContext } from '../../api/as-of-context.ts';
import type { CarryTerms } from '../../api/carry.ts';
import type { RateCurve } from '../repositories/rate-curves.ts';
import type { StoredSlice } from '../repositories/slices.ts';

/** What is known of an underlying besides its quotes. */
export interface Carry {
  curve?: RateCurve;
  /** Of a currency pair: its rate is the yield */
  foreignCurve?: RateCurve;
  dividends?: { instant: Date; amount: number }[];
  isFuture?: boolean;
  exercise: 'european' | 'american';
  /** What a user has taken over as known, when it holds at the instant */
  taken?: CarryTerms;
}

/** The core's view of a stored slice. */
export function coreSlice(row: StoredSlice): Slice {
  const { strikes, callBid, callAsk, putBid, putAsk } = row;
  const timeToExpiry = calendarYears(row.instant.getTime(), row.expiry.getTime());
  return { timeToExpiry, strikes, callBid, callAsk, putBid, putAsk };
}

/** Rate for a number of days, linear between the curve's points, flat outside. */
export function curveRate(curve: RateCurve, days: number): number {
  const next = curve.days.findIndex((d) => d >= days);
  if (next <= 0) return curve.rates[next === 0 ? 0 : curve.rates.length - 1];
  const share = (days - curve.days[next - 1]) / (curve.days[next] - curve.days[next - 1]);
  return curve.rates[next - 1] + share * (curve.rates[next] - curve.rates[next - 1]);
}

/** Dividends paid after an instant and before another, in years from the first. */
export function dividendsWithin(carry: Carry, from: Date, to: Date): CashDividend[] {
  return (carry.dividends ?? [])
    .filter((d) => d.instant > from && d.instant < to)
    .map((d) => ({ time: calendarYears(from.getTime(), d.instant.getTime()), amount: d.amount }));
}

/** Financing and borrow that are given beside curves and dividends: typed, or else taken over. */
function givenCarry(carry: Carry, { carry: choice, financing, borrowCost }: DerivingContext) {
  // Of what is not exercised early on a spot there is nothing to type or take over.
  if (carry.exercise !== 'american' || carry.isFuture) return undefined;
  if (choice === 'typed') return { financing: financing ?? 0, borrow: borrowCost ?? 0 };
  return carry.taken;
}

function carryOf(
  row: StoredSlice,
  time: number,
  carry: Carry,
  given: { financing: number; borrow: number } | undefined,
): Partial<CarryInput> {
  const { curve, foreignCurve, isFuture, exercise } = carry;
  const known = curve && curveRate(curve, time * 365);
  return {
    spot: row.underlyingPrice,
    rate: given ? (known ?? 0) + given.financing : known,
    dividendYield: (foreignCurve ? curveRate(foreignCurve, time * 365) : 0) + (given?.borrow ?? 0),
    dividends: dividendsWithin(carry, row.instant, row.expiry),
    exercise,
    isFuture,
  };
}

/** A scheduled event as far as its variance goes. */
export interface KnownEvent {
  instant: Date;
  kind: string;
}

/**
 * Surface of an underlying's stored slices of one instant, nearest expiry first.
 * @param o.events those after the instant and up to the last expiry, by time
 */
export function deriveStored(
  rows: StoredSlice[],
  o: { dateOf: (expiry: Date) => string; carryOf: Carry; events: readonly KnownEvent[] } & DerivingContext,
): Surface {
  const slices = rows.map(coreSlice);
  const now = rows[0].instant.getTime();
  const given = givenCarry(o.carryOf, o);
  const events = o.events.map((e): DatedEvent => ({ time: calendarYears(now, e.instant.getTime()), kind: e.kind }));
  return deriveSurface({
    slices,
    spot: rows[0].underlyingPrice,
    carries: rows.map((row, i) => carryOf(row, slices[i].timeToExpiry, o.carryOf, given)),
    isCarryGiven: o.carry === 'known' || o.carry === 'typed',
    forwardSource: o.forwardSource,
    events,
    restored: rows.map((row) => o.restored.filter((r) => r.expiry === o.dateOf(row.expiry))),
  });
}
