import { and, asc, eq, gt, isNull, or } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { events } from '../database/schema.ts';

export type NewEvent = typeof events.$inferInsert;

/** Events after an instant that concern an underlying or, when it is of the exchange's market, everything on it. */
export function eventsAfter(
  database: Database | Transaction,
  o: { underlyingId: number; instant: Date; includeMarketWide: boolean },
) {
  const concerns = o.includeMarketWide
    ? or(eq(events.underlyingId, o.underlyingId), isNull(events.underlyingId))
    : eq(events.underlyingId, o.underlyingId);
  return database
    .select({ instant: events.instant, kind: events.kind, label: events.label })
    .from(events)
    .where(and(concerns, gt(events.instant, o.instant)))
    .orderBy(asc(events.instant));
}

export async function insertEvents(database: Database | Transaction, rows: NewEvent[]): Promise<void> {
  await database.insert(events).values(rows);
}
