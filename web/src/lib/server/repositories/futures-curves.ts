import { and, desc, eq, lte, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { futuresCurves } from '../database/schema.ts';
import { mayReplace } from './row-source.ts';

export type StoredFuturesCurve = typeof futuresCurves.$inferSelect;

/** The newest curve at or before an instant. */
export async function futuresCurveAt(
  database: Database | Transaction,
  underlyingId: number,
  instant: Date,
): Promise<StoredFuturesCurve | undefined> {
  const [curve] = await database
    .select()
    .from(futuresCurves)
    .where(and(eq(futuresCurves.underlyingId, underlyingId), lte(futuresCurves.instant, instant)))
    .orderBy(desc(futuresCurves.instant))
    .limit(1);
  return curve;
}

/** Stores curves, replacing those of the same underlying and instant. */
export async function upsertFuturesCurves(database: Database | Transaction, rows: StoredFuturesCurve[]): Promise<void> {
  if (rows.length === 0) return;
  await database
    .insert(futuresCurves)
    .values(rows)
    .onConflictDoUpdate({
      target: [futuresCurves.underlyingId, futuresCurves.instant],
      set: { deliveries: sql`excluded.deliveries`, prices: sql`excluded.prices`, source: sql`excluded.source` },
      setWhere: mayReplace(futuresCurves.source),
    });
}
