import { and, asc, desc, eq, gt, lt, max, min, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { slices } from '../database/schema.ts';

export type StoredSlice = typeof slices.$inferSelect;
export type NewSlice = typeof slices.$inferInsert;

/** All expiries of an underlying at one stored instant, nearest first. */
export function slicesAt(
  database: Database | Transaction,
  underlyingId: number,
  instant: Date,
): Promise<StoredSlice[]> {
  return database
    .select()
    .from(slices)
    .where(and(eq(slices.underlyingId, underlyingId), eq(slices.instant, instant)))
    .orderBy(asc(slices.expiry));
}

/** The stored instant at or before the given one (the latest without one), and its neighbours. */
export async function instantsAround(database: Database | Transaction, underlyingId: number, at: Date | undefined) {
  const own = eq(slices.underlyingId, underlyingId);
  const one = async (condition: ReturnType<typeof and>, order: 'asc' | 'desc') => {
    const [row] = await database
      .select({ instant: slices.instant })
      .from(slices)
      .where(condition)
      .orderBy(order === 'asc' ? asc(slices.instant) : desc(slices.instant))
      .limit(1);
    return row?.instant;
  };
  const [ends] = await database
    .select({ first: min(slices.instant), latest: max(slices.instant) })
    .from(slices)
    .where(own);
  if (!ends.first || !ends.latest) return undefined;
  const { first, latest } = ends;
  const instant =
    at === undefined ? latest : ((await one(and(own, sql`${slices.instant} <= ${at.toISOString()}`), 'desc')) ?? first);
  const previous = await one(and(own, lt(slices.instant, instant)), 'desc');
  const next = await one(and(own, gt(slices.instant, instant)), 'asc');
  return { instant, previous, next, first, latest };
}

/** Price of the underlying at a stored instant. */
export async function priceAt(database: Database | Transaction, underlyingId: number, instant: Date) {
  const [row] = await database
    .select({ price: slices.underlyingPrice })
    .from(slices)
    .where(and(eq(slices.underlyingId, underlyingId), eq(slices.instant, instant)))
    .limit(1);
  return row?.price;
}

export async function insertSlices(database: Database | Transaction, rows: NewSlice[]): Promise<void> {
  const batch = 200;
  for (let i = 0; i < rows.length; i += batch) await database.insert(slices).values(rows.slice(i, i + batch));
}

/** Distinct stored instants of an underlying, ascending. */
export async function storedInstants(database: Database | Transaction, underlyingId: number): Promise<Date[]> {
  const rows = await database
    .selectDistinct({ instant: slices.instant })
    .from(slices)
    .where(eq(slices.underlyingId, underlyingId))
    .orderBy(asc(slices.instant));
  return rows.map((r) => r.instant);
}
