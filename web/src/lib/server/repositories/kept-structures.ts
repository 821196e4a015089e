import { and, count, desc, eq } from 'drizzle-orm';
import type { KeepRequest, KeptStructure } from '../../api/kept-structure.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { keptStructures } from '../database/schema.ts';

export type StoredKeptStructure = Omit<KeptStructure, 'etag'>;

const columns = {
  ...{ id: keptStructures.id, symbol: keptStructures.symbol, name: keptStructures.name, tags: keptStructures.tags },
  ...{ asOf: keptStructures.asOf, legs: keptStructures.legs, held: keptStructures.held, paid: keptStructures.paid },
  ...{ cost: keptStructures.cost, price: keptStructures.price },
};

/** All of an owner, newest first. */
export function keptStructuresOf(database: Database | Transaction, owner: string): Promise<StoredKeptStructure[]> {
  return database
    .select(columns)
    .from(keptStructures)
    .where(eq(keptStructures.owner, owner))
    .orderBy(desc(keptStructures.createdAt), desc(keptStructures.id));
}

export async function keptCount(database: Database | Transaction, owner: string): Promise<number> {
  const [row] = await database.select({ kept: count() }).from(keptStructures).where(eq(keptStructures.owner, owner));
  return row.kept;
}

/** In the order that they are given. */
export async function saveKeptStructures(
  database: Database | Transaction,
  owner: string,
  requests: readonly KeepRequest[],
): Promise<StoredKeptStructure[]> {
  if (requests.length === 0) return [];
  return database
    .insert(keptStructures)
    .values(requests.map((request) => ({ owner, ...request })))
    .returning(columns);
}

/** One of an owner, which nobody else changes until the end of the transaction. */
export async function holdKeptStructure(
  transaction: Transaction,
  o: { owner: string; id: string },
): Promise<StoredKeptStructure | undefined> {
  const [found] = await transaction
    .select(columns)
    .from(keptStructures)
    .where(and(eq(keptStructures.owner, o.owner), eq(keptStructures.id, o.id)))
    .for('update');
  return found;
}

/** @returns undefined where there is none */
export async function changeKeptStructure(
  database: Database | Transaction,
  o: { owner: string; id: string; change: Pick<KeptStructure, 'name' | 'tags'> },
): Promise<StoredKeptStructure | undefined> {
  const [changed] = await database
    .update(keptStructures)
    .set(o.change)
    .where(and(eq(keptStructures.owner, o.owner), eq(keptStructures.id, o.id)))
    .returning(columns);
  return changed as StoredKeptStructure | undefined;
}

/** @returns whether there was one */
export async function deleteKeptStructure(
  database: Database | Transaction,
  o: { owner: string; id: string },
): Promise<boolean> {
  const gone = await database
    .delete(keptStructures)
    .where(and(eq(keptStructures.owner, o.owner), eq(keptStructures.id, o.id)))
    .returning({ id: keptStructures.id });
  return gone.length > 0;
}
