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
        butterfly25: sql`excluded.butterfly25`,
        realizedByWindow: sql`excluded.realized_by_window`,
        optionVolume: sql`excluded.option_volume`,
        openInterest: sql`excluded.open_interest`,
        quotes: sql`excluded.quotes`,
        rejected: sql`excluded.rejected`,
      },
    });
}

/** Stored instants whose measures are missing or were made by another version, by underlying and time. */
export async function outdatedInstants(
  database: Database | Transaction,
  version: number,
  within?: { underlyingId: number; from: Date; to: Date },
): Promise<{ underlyingId: number; instant: Date }[]> {
  const bounds = within
    ? sql`and s.underlying_id = ${within.underlyingId} and s.instant between ${within.from.toISOString()} and ${within.to.toISOString()}`
    : sql``;
  const rows = await database.execute<{ underlying_id: number; instant: string }>(sql`
    select distinct s.underlying_id, s.instant from slices s
    left join derived_measures m on m.underlying_id = s.underlying_id and m.instant = s.instant
    where (m.version is null or m.version <> ${version}) ${bounds}
    order by s.underlying_id, s.instant`);
  return rows.map((r) => ({ underlyingId: r.underlying_id, instant: new Date(r.instant) }));
}
