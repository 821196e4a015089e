import { and, asc, eq, gt, lte, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { intradayBars } from '../database/schema.ts';
import { mayReplace } from './row-source.ts';

export type StoredIntradayBar = typeof intradayBars.$inferSelect;

/** Stores bars within sessions, replacing those of the same underlying and end; the demo's never replace a user's. */
export async function upsertIntradayBars(
  database: Database | Transaction,
  rows: (typeof intradayBars.$inferInsert)[],
): Promise<void> {
  const batch = 2000;
  for (let i = 0; i < rows.length; i += batch) {
    await database
      .insert(intradayBars)
      .values(rows.slice(i, i + batch))
      .onConflictDoUpdate({
        target: [intradayBars.underlyingId, intradayBars.instant],
        set: {
          open: sql`excluded.open`,
          high: sql`excluded.high`,
          low: sql`excluded.low`,
          close: sql`excluded.close`,
          volume: sql`excluded.volume`,
          source: sql`excluded.source`,
        },
        setWhere: mayReplace(intradayBars.source),
      });
  }
}

/** Bars of an underlying that end after an instant and up to another, ascending; all without the two. */
export function intradayBarsOf(
  database: Database | Transaction,
  underlyingId: number,
  within?: { after: Date; to: Date },
): Promise<StoredIntradayBar[]> {
  const { instant } = intradayBars;
  return database
    .select()
    .from(intradayBars)
    .where(
      and(
        eq(intradayBars.underlyingId, underlyingId),
        within && gt(instant, within.after),
        within && lte(instant, within.to),
      ),
    )
    .orderBy(asc(instant));
}
