import type { Database, Transaction } from '../database/connect.ts';
import { carryTermsOf } from '../repositories/carry-terms.ts';
import { dividendsAfter } from '../repositories/dividends.ts';
import { curveOn } from '../repositories/rate-curves.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import type { Carry } from '../derive/derive-stored.ts';
import { sessionDate } from '../derive/session-date.ts';

/** Curves and dividends of an underlying as they are known at an instant. */
export async function carryAt(
  database: Database | Transaction,
  underlying: StoredUnderlying,
  instant: Date,
): Promise<Carry> {
  const date = sessionDate(instant, underlying.zone);
  const [curve, foreignCurve, known, terms] = await Promise.all([
    curveOn(database, underlying.currency, date),
    underlying.foreignCurrency === null ? undefined : curveOn(database, underlying.foreignCurrency, date),
    dividendsAfter(database, underlying.id, instant),
    carryTermsOf(database, underlying.id),
  ]);
  const taken = terms && Date.parse(terms.from) <= instant.getTime() ? terms : undefined;
  const implied = (taken?.dividends ?? [])
    .map((d) => ({ instant: new Date(d.instant), amount: d.amount }))
    .filter((d) => d.instant > instant);
  const dividends = [...known, ...implied].sort((a, b) => a.instant.getTime() - b.instant.getTime());
  const { exercise } = underlying;
  return {
    curve,
    foreignCurve,
    dividends,
    isFuture: underlying.model === 'futures',
    exercise,
    ...(taken ? { taken } : {}),
  };
}
