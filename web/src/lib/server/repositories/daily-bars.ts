import { and, asc, desc, eq, lt, lte, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { dailyBars } from '../database/schema.ts';
import { mayReplace } from './row-source.ts';

export type StoredBar = typeof dailyBars.$inferSelect;

/** Stores bars, replacing those of the same underlying and session; the demo's never replace a user's. */
export async function upsertBars(
  database: Database | Transaction,
  rows: (typeof dailyBars.$inferInsert)[],
): Promise<void> {
  const batch = 2000;
  for (let i = 0; i < rows.length; i += batch) {
    await database
      .insert(dailyBars)
      .values(rows.slice(i, i + batch))
      .onConflictDoUpdate({
        target: [dailyBars.underlyingId, dailyBars.session],
        set: {
          open: sql`excluded.open`,
          high: sql`excluded.high`,
          low: sql`excluded.low`,
          close: sql`excluded.close`,
          volume: sql`excluded.volume`,
          source: sql`excluded.source`,
        },
        setWhere: mayReplace(dailyBars.source),
      });
  }
}

/** The last bars before a session, or up to it, ascending. */
export async function barsUpTo(
  database: Database | Transaction,
  underlyingId: number,
  { session, isOver }: { session: string; isOver: boolean },
  count: number,
): Promise<StoredBar[]> {
  const rows = await database
    .select()
    .from(dailyBars)
    .where(
      and(
        eq(dailyBars.underlyingId, underlyingId),
        isOver ? lte(dailyBars.session, session) : lt(dailyBars.session, session),
      ),
    )
    .orderBy(desc(dailyBars.session))
    .limit(count);
  return rows.reverse();
}

/** Close of a session, in units of that day; undefined where no bar of it is stored. */
export async function closeOn(
  database: Database | Transaction,
  underlyingId: number,
  session: string,
): Promise<number | undefined> {
  const [row] = await database
    .select({ close: dailyBars.close })
    .from(dailyBars)
    .where(and(eq(dailyBars.underlyingId, underlyingId), eq(dailyBars.session, session)));
  return row?.close;
}

/** All bars of an underlying, ascending. */
export function barsOf(database: Database | Transaction, underlyingId: number): Promise<StoredBar[]> {
  return database
    .select()
    .from(dailyBars)
    .where(eq(dailyBars.underlyingId, underlyingId))
    .orderBy(asc(dailyBars.session));
}
