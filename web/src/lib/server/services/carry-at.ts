import type { Database, Transaction } from '../database/connect.ts';
import { dividendsAfter } from '../repositories/dividends.ts';
import { curveOn } from '../repositories/rate-curves.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import type { Carry } from './derive-stored.ts';
import { sessionDate } from './session-date.ts';

/** Curves and dividends of an underlying as they are known at an instant. */
export async function carryAt(
  database: Database | Transaction,
  underlying: StoredUnderlying,
  instant: Date,
): Promise<Carry> {
  const date = sessionDate(instant, underlying.zone);
  const [curve, foreignCurve, dividends] = await Promise.all([
    curveOn(database, underlying.currency, date),
    underlying.foreignCurrency === null ? undefined : curveOn(database, underlying.foreignCurrency, date),
    dividendsAfter(database, underlying.id, instant),
  ]);
  return { curve, foreignCurve, dividends, isFuture: underlying.model === 'futures', exercise: underlying.exercise };
}
