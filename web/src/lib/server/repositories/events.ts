import { and, asc, eq, gt, lte } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { events } from '../database/schema.ts';

export type NewEvent = typeof events.$inferInsert;

/** Events of an underlying after an instant and up to another, by time. */
export function eventsBetween(database: Database | Transaction, o: { underlyingId: number; from: Date; to: Date }) {
  return database
    .select({ instant: events.instant, kind: events.kind, label: events.label })
    .from(events)
    .where(and(eq(events.underlyingId, o.underlyingId), gt(events.instant, o.from), lte(events.instant, o.to)))
    .orderBy(asc(events.instant));
}

export async function insertEvents(database: Database | Transaction, rows: NewEvent[]): Promise<void> {
  await database.insert(events).values(rows);
}
