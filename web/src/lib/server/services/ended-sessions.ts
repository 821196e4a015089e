import type { Database, Transaction } from '../database/connect.ts';
import { endedSession, type SessionBars, sessionBars } from '../derive/session-bars.ts';
import { barsUpTo } from '../repositories/daily-bars.ts';
import { dividendsOf } from '../repositories/dividends.ts';
import { splitsOf } from '../repositories/splits.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';

/**
 * Bars of the last sessions that have ended by an instant.
 * @param o.quoted dates of sessions that quotes are stored of
 */
export async function endedSessions(
  database: Database | Transaction,
  stored: StoredUnderlying,
  o: { instant: Date; count: number; quoted?: readonly string[] },
): Promise<SessionBars> {
  const [bars, dividends, splits] = await Promise.all([
    barsUpTo(database, stored.id, endedSession(o.instant, stored), o.count),
    dividendsOf(database, stored.id),
    splitsOf(database, stored.id),
  ]);
  return sessionBars({ bars, dividends, splits, quoted: o.quoted });
}
