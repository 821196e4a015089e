import { and, asc, eq, gt, lte, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { events } from '../database/schema.ts';
import { mayReplace } from './row-source.ts';

export type NewEvent = typeof events.$inferInsert;

/** Events of an underlying after an instant and up to another, by time. */
export function eventsBetween(database: Database | Transaction, o: { underlyingId: number; from: Date; to: Date }) {
  return database
    .select({ instant: events.instant, kind: events.kind, label: events.label })
    .from(events)
    .where(and(eq(events.underlyingId, o.underlyingId), gt(events.instant, o.from), lte(events.instant, o.to)))
    .orderBy(asc(events.instant));
}

/** All events of an underlying, by time. */
export function eventsOf(database: Database | Transaction, underlyingId: number) {
  return database
    .select({ instant: events.instant, kind: events.kind, label: events.label })
    .from(events)
    .where(eq(events.underlyingId, underlyingId))
    .orderBy(asc(events.instant), asc(events.kind));
}

/** Stores events; the same event of the same underlying is kept once, as the user's when a user brought it. */
export async function replaceEvents(database: Database | Transaction, rows: NewEvent[]): Promise<void> {
  const batch = 2000;
  for (let i = 0; i < rows.length; i += batch) {
    await database
      .insert(events)
      .values(rows.slice(i, i + batch))
      .onConflictDoUpdate({
        target: [events.underlyingId, events.instant, events.kind, events.label],
        set: { source: sql`excluded.source` },
        setWhere: mayReplace(events.source),
      });
  }
}
