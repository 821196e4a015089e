import { and, asc, eq, gte, lt, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { derivedMeasures } from '../database/schema.ts';

export type StoredMeasures = typeof derivedMeasures.$inferSelect;

/** Measures of an underlying from `from` up to but not including `to`, ascending. */
export function measuresBetween(
  database: Database | Transaction,
  underlyingId: number,
  from: Date,
  to: Date,
): Promise<StoredMeasures[]> {
  return database
    .select()
    .from(derivedMeasures)
    .where(
      and(
        eq(derivedMeasures.underlyingId, underlyingId),
        gte(derivedMeasures.instant, from),
        lt(derivedMeasures.instant, to),
      ),
    )
    .orderBy(asc(derivedMeasures.instant));
}

/** Stores measures, replacing those of the same underlying and instant. */
export async function upsertMeasures(database: Database | Transaction, rows: StoredMeasures[]): Promise<void> {
  if (rows.length === 0) return;
  await database
    .insert(derivedMeasures)
    .values(rows)
    .onConflictDoUpdate({
      target: [derivedMeasures.underlyingId, derivedMeasures.instant],
      set: {
        version: sql`excluded.version`,
        underlyingPrice: sql`excluded.underlying_price`,
        atmByTenor: sql`excluded.atm_by_tenor`,
        index30: sql`excluded.index30`,
        riskReversal25: sql`excluded.risk_reversal25`,
      },
    });
}
