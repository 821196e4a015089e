import { and, asc, eq, gt } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { dividends } from '../database/schema.ts';

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

export async function insertDividends(database: Database | Transaction, rows: StoredDividend[]): Promise<void> {
  if (rows.length > 0) await database.insert(dividends).values(rows);
}
