import { eq } from 'drizzle-orm';
import type { CarryTerms } from '../../api/carry.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { carryTerms } from '../database/schema.ts';

/** What a user has taken over of an underlying's carry; undefined where nothing was. */
export async function carryTermsOf(
  database: Database | Transaction,
  underlyingId: number,
): Promise<CarryTerms | undefined> {
  const [row] = await database.select().from(carryTerms).where(eq(carryTerms.underlyingId, underlyingId));
  if (!row) return undefined;
  const { from, financing, borrow, dividends } = row;
  return { from: from.toISOString(), financing, borrow, dividends };
}

export async function saveCarryTerms(
  database: Database | Transaction,
  underlyingId: number,
  { from, ...terms }: CarryTerms,
): Promise<void> {
  const row = { ...terms, from: new Date(from), source: 'user' as const };
  await database
    .insert(carryTerms)
    .values({ underlyingId, ...row })
    .onConflictDoUpdate({ target: carryTerms.underlyingId, set: row });
}

/** @returns whether there was anything to give back */
export async function deleteCarryTerms(database: Database | Transaction, underlyingId: number): Promise<boolean> {
  const gone = await database
    .delete(carryTerms)
    .where(eq(carryTerms.underlyingId, underlyingId))
    .returning({ id: carryTerms.underlyingId });
  return gone.length > 0;
}
