import { sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { futuresCurves } from '../database/schema.ts';

export type StoredFuturesCurve = typeof futuresCurves.$inferSelect;

/** Stores curves, replacing those of the same underlying and instant. */
export async function upsertFuturesCurves(database: Database | Transaction, rows: StoredFuturesCurve[]): Promise<void> {
  if (rows.length === 0) return;
  await database
    .insert(futuresCurves)
    .values(rows)
    .onConflictDoUpdate({
      target: [futuresCurves.underlyingId, futuresCurves.instant],
      set: { deliveries: sql`excluded.deliveries`, prices: sql`excluded.prices` },
    });
}
