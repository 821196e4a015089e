import { and, asc, eq, gt, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { dividends } from '../database/schema.ts';
import { mayReplace } from './row-source.ts';

export type StoredDividend = typeof dividends.$inferSelect;

/** Dividends of an underlying whose price has not fallen yet at an instant, by time. */
export function dividendsAfter(
  database: Database | Transaction,
  underlyingId: number,
  instant: Date,
): Promise<StoredDividend[]> {
  return database
    .select()
    .from(dividends)
    .where(and(eq(dividends.underlyingId, underlyingId), gt(dividends.instant, instant)))
    .orderBy(asc(dividends.instant));
}

/** All dividends of an underlying, by time. */
export function dividendsOf(database: Database | Transaction, underlyingId: number): Promise<StoredDividend[]> {
  return database
    .select()
    .from(dividends)
    .where(eq(dividends.underlyingId, underlyingId))
    .orderBy(asc(dividends.instant));
}

/** Stores dividends, replacing those of the same underlying and ex-date; the demo's never replace a user's. */
export async function upsertDividends(
  database: Database | Transaction,
  rows: (typeof dividends.$inferInsert)[],
): Promise<void> {
  if (rows.length === 0) return;
  await database
    .insert(dividends)
    .values(rows)
    .onConflictDoUpdate({
      target: [dividends.underlyingId, dividends.exDate],
      set: { instant: sql`excluded.instant`, amount: sql`excluded.amount`, source: sql`excluded.source` },
      setWhere: mayReplace(dividends.source),
    });
}
