import { isoInZone } from '@umwelt/market/zone';
import { type PastSmile, pastSmile, type SkewHistory } from '../../api/skew-history.ts';
import type { Database } from '../database/connect.ts';
import type { StoredSmile } from '../database/schema.ts';
import { eventsBetween } from '../repositories/events.ts';
import { sessionSmiles } from '../repositories/measures.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { nearestInTime, TENOR_DAYS } from '../../market/index.ts';
import { sessionDate } from '../derive/session-date.ts';

const YEAR = 365 * 86_400_000;

/** The skew at 30 days and the smile nearest to a tenor, at the end of each session of the year up to an instant. */
export async function skewHistoryOf(
  database: Database,
  stored: StoredUnderlying,
  instant: Date,
  days: number,
): Promise<SkewHistory> {
  const { id, zone } = stored;
  const span = { underlyingId: id, from: new Date(instant.getTime() - YEAR), to: instant };
  const [rows, events] = await Promise.all([
    sessionSmiles(database, { ...span, zone, tenor: TENOR_DAYS.indexOf(30) }),
    eventsBetween(database, span),
  ]);
  const iso = (at: Date) => isoInZone(at.getTime(), zone);
  return {
    symbol: stored.symbol,
    asOf: iso(instant),
    days,
    events: events.map((e) => ({ ...e, instant: iso(e.instant) })),
    sessions: rows.map(({ instant: at, underlyingPrice, atm, riskReversal25, butterfly25, smiles }) => ({
      instant: iso(at),
      price: underlyingPrice,
      atm30: atm,
      riskReversal25,
      butterfly25,
      smile: nearestSmile(smiles, days, zone),
    })),
  };
}

function nearestSmile(smiles: StoredSmile[], days: number, zone: string): PastSmile | null {
  const nearest = nearestInTime(smiles, days / 365, (s) => s.years);
  if (!nearest) return null;
  const { expiry, ...smile } = nearest;
  // One kept by an earlier derivation may have another form: a job is about to make it anew.
  return pastSmile.safeParse({ ...smile, expiry: sessionDate(new Date(expiry), zone) }).data ?? null;
}
