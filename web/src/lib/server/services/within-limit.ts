import { sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';

/**
 * Adds to what an owner keeps, all or none, where it stays within a limit. Those who ask at once take turns, so that the limit holds
 * for all of them together.
 * @param o.of whose and what, a text of its own for each limit
 * @returns how many there are where it would be more than the limit
 */
export function withinLimit<T>(
  database: Database,
  o: { of: string; most: number; adds: number; count: (transaction: Transaction) => Promise<number> },
  add: (transaction: Transaction) => Promise<T>,
): Promise<{ ok: true; added: T } | { ok: false; kept: number }> {
  return database.transaction(async (transaction) => {
    await transaction.execute(sql`select pg_advisory_xact_lock(hashtextextended(${o.of}, 0))`);
    const kept = await o.count(transaction);
    if (kept + o.adds > o.most) return { ok: false, kept } as const;
    return { ok: true, added: await add(transaction) } as const;
  });
}
