import type { Database, Transaction } from '../database/connect.ts';
import { eventsBetween } from '../repositories/events.ts';
import {
  sessionMeasures,
  type SessionMeasures,
  type StoredMeasures,
  upsertMeasures,
} from '../repositories/measures.ts';
import { slicesAt, userSlices } from '../repositories/slices.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { carryAt } from './carry-at.ts';
import { endedSessions } from './ended-sessions.ts';
import { instantMeasures, type MeasuresInput } from '../derive/instant-measures.ts';
import { BARS_NEEDED } from '../derive/measures-of.ts';
import { sessionDate } from '../derive/session-date.ts';

/** That measures are looked back, milliseconds. */
export const YEAR = 365 * 86_400_000;

/**
 * Derives and stores the measures of one stored instant.
 * @param derive where to compute: in place, as a process does that has nothing else to do, or in a worker thread
 */
export async function deriveMeasures(
  database: Database | Transaction,
  underlying: StoredUnderlying,
  instant: Date,
  derive: (input: MeasuresInput) => StoredMeasures | Promise<StoredMeasures> = instantMeasures,
): Promise<void> {
  const [rows, users, carry, ended] = await Promise.all([
    slicesAt(database, underlying.id, instant),
    userSlices(database, underlying.id, instant, instant),
    carryAt(database, underlying, instant),
    endedSessions(database, underlying, { instant, count: BARS_NEEDED }),
  ]);
  if (rows.length === 0) return;
  const events = await eventsBetween(database, {
    underlyingId: underlying.id,
    from: instant,
    to: rows[rows.length - 1].expiry,
  });
  const source = users.length > 0 ? 'user' : 'demo';
  await upsertMeasures(database, [await derive({ rows, carry, events, ended, source })]);
}

/** The year of measures before an instant: the last of each session, without the instant's own. */
export async function pastSessions(
  database: Database,
  o: { id: number; zone: string },
  instant: Date,
): Promise<SessionMeasures[]> {
  const past = await sessionMeasures(database, {
    underlyingId: o.id,
    zone: o.zone,
    from: new Date(instant.getTime() - YEAR),
    to: instant,
  });
  const last = past[past.length - 1];
  if (past.length > 0 && sessionDate(last.instant, o.zone) === sessionDate(instant, o.zone)) past.pop();
  return past;
}
