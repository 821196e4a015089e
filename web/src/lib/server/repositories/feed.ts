import { eq, gt, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { feed, feedWatches } from '../database/schema.ts';

export type StoredFeed = typeof feed.$inferSelect;
/** There is one feed. */
const ID = 1;

/** The feed's row with the age of its sign of life; undefined before a feed has ever run. */
export async function readFeed(
  database: Database | Transaction,
): Promise<(StoredFeed & { beatAge: number | null }) | undefined> {
  const [row] = await database
    .select({ row: feed, beatAge: sql<number | null>`extract(epoch from now() - ${feed.beatAt})::float8` })
    .from(feed)
    .where(eq(feed.id, ID));
  return row && { ...row.row, beatAge: row.beatAge };
}

/** The feed's row, which nobody changes until the transaction has ended. */
export async function holdFeed(transaction: Database | Transaction): Promise<StoredFeed | undefined> {
  const [row] = await transaction.select().from(feed).where(eq(feed.id, ID)).for('update');
  return row;
}

/** Makes the feed's row unless it is there. */
export async function insertFeed(
  database: Database | Transaction,
  row: Pick<StoredFeed, 'instant' | 'sequence' | 'state' | 'prices'>,
): Promise<void> {
  await database
    .insert(feed)
    .values({ id: ID, isRunning: false, speed: 60, stepsWanted: 0, storeMinutes: 15, ...row })
    .onConflictDoNothing();
}

export async function updateFeed(
  database: Database | Transaction,
  change: Partial<Omit<StoredFeed, 'id' | 'beatAt'>>,
): Promise<void> {
  await database.update(feed).set(change).where(eq(feed.id, ID));
}

/** Asks for one wave more. */
export async function wantStep(database: Database | Transaction): Promise<void> {
  await database
    .update(feed)
    .set({ stepsWanted: sql`least(${feed.stepsWanted} + 1, 20)` })
    .where(eq(feed.id, ID));
}

/** Sign of life; waves taken off what was asked for. */
export async function beatFeed(database: Database | Transaction, stepsDone: number): Promise<void> {
  await database
    .update(feed)
    .set({ beatAt: sql`now()`, stepsWanted: sql`greatest(${feed.stepsWanted} - ${stepsDone}, 0)` })
    .where(eq(feed.id, ID));
}

/** Says that browsers show these underlyings. */
export async function watch(database: Database | Transaction, symbols: string[]): Promise<void> {
  if (symbols.length === 0) return;
  await database
    .insert(feedWatches)
    .values(symbols.map((symbol) => ({ symbol, seenAt: sql`now()` })))
    .onConflictDoUpdate({ target: feedWatches.symbol, set: { seenAt: sql`now()` } });
}

/** Underlyings that a browser showed within the last seconds. */
export async function watchedSymbols(database: Database | Transaction, seconds: number): Promise<string[]> {
  const rows = await database
    .select({ symbol: feedWatches.symbol })
    .from(feedWatches)
    .where(gt(feedWatches.seenAt, sql`now() - make_interval(secs => ${seconds})`));
  return rows.map((r) => r.symbol);
}

/** Ends the watch of a symbol. */
export async function forgetWatch(database: Database | Transaction, symbol: string): Promise<void> {
  await database.delete(feedWatches).where(eq(feedWatches.symbol, symbol));
}
