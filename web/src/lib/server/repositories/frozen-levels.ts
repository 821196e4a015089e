import { and, asc, count, eq, isNotNull, isNull, lt, lte } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { frozenLevels, type StoredFrozenLevel } from '../database/schema.ts';

/** Expected moves that a user kept of an underlying. */
export interface StoredFrozenSet {
  id: string;
  name: string;
  instant: Date;
  price: number;
  move: string;
  levels: StoredFrozenLevel[];
}

/** Those of instants up to one, earliest first. */
export async function frozenSetsOf(
  database: Database | Transaction,
  o: { owner: string; symbol: string; until: Date },
): Promise<StoredFrozenSet[]> {
  return database
    .select({
      id: frozenLevels.id,
      name: frozenLevels.name,
      instant: frozenLevels.instant,
      price: frozenLevels.price,
      move: frozenLevels.move,
      levels: frozenLevels.levels,
    })
    .from(frozenLevels)
    .where(
      and(
        eq(frozenLevels.owner, o.owner),
        eq(frozenLevels.symbol, o.symbol),
        lte(frozenLevels.instant, o.until),
        isNull(frozenLevels.deletedAt),
      ),
    )
    .orderBy(asc(frozenLevels.instant), asc(frozenLevels.createdAt));
}

export async function frozenCount(
  database: Database | Transaction,
  { owner, symbol }: { owner: string; symbol: string },
): Promise<number> {
  const [row] = await database
    .select({ kept: count() })
    .from(frozenLevels)
    .where(and(eq(frozenLevels.owner, owner), eq(frozenLevels.symbol, symbol), isNull(frozenLevels.deletedAt)));
  return row.kept;
}

export async function saveFrozenSet(
  database: Database | Transaction,
  o: { owner: string; symbol: string } & Omit<StoredFrozenSet, 'id'>,
): Promise<string> {
  const [{ id }] = await database.insert(frozenLevels).values(o).returning({ id: frozenLevels.id });
  return id;
}

/** A set that is taken out can be put back, until it is forgotten. @returns whether there was one in the other state */
export async function setFrozenDeleted(
  database: Database | Transaction,
  o: { owner: string; symbol: string; id: string; deletedAt: Date | null },
): Promise<boolean> {
  const changed = await database
    .update(frozenLevels)
    .set({ deletedAt: o.deletedAt })
    .where(
      and(
        eq(frozenLevels.owner, o.owner),
        eq(frozenLevels.symbol, o.symbol),
        eq(frozenLevels.id, o.id),
        o.deletedAt === null ? isNotNull(frozenLevels.deletedAt) : isNull(frozenLevels.deletedAt),
      ),
    )
    .returning({ id: frozenLevels.id });
  return changed.length > 0;
}

/** Forgets for good what an owner took out before an instant. */
export async function forgetFrozenSets(
  database: Database | Transaction,
  { owner, before }: { owner: string; before: Date },
): Promise<void> {
  await database
    .delete(frozenLevels)
    .where(and(eq(frozenLevels.owner, owner), isNotNull(frozenLevels.deletedAt), lt(frozenLevels.deletedAt, before)));
}
