import { asc, eq, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { splits } from '../database/schema.ts';
import { mayReplace } from './row-source.ts';

export type StoredSplit = typeof splits.$inferSelect;

/** Splits of an underlying, by session. */
export function splitsOf(database: Database | Transaction, underlyingId: number): Promise<StoredSplit[]> {
  return database.select().from(splits).where(eq(splits.underlyingId, underlyingId)).orderBy(asc(splits.session));
}

/** Stores splits, replacing those of the same underlying and session; the demo's never replace a user's. */
export async function upsertSplits(
  database: Database | Transaction,
  rows: (typeof splits.$inferInsert)[],
): Promise<void> {
  if (rows.length === 0) return;
  await database
    .insert(splits)
    .values(rows)
    .onConflictDoUpdate({
      target: [splits.underlyingId, splits.session],
      set: { ratio: sql`excluded.ratio`, source: sql`excluded.source` },
      setWhere: mayReplace(splits.source),
    });
}
