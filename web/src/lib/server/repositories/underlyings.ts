import { asc, eq } from 'drizzle-orm';
import type { UnderlyingSummary } from '../../schema/picture.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { contractTerms, underlyings } from '../database/schema.ts';

export type StoredUnderlying = UnderlyingSummary & { id: number };
export type NewUnderlying = UnderlyingSummary;

const columns = {
  id: underlyings.id,
  symbol: underlyings.symbol,
  name: underlyings.name,
  sector: underlyings.sector,
  source: underlyings.source,
  kind: contractTerms.kind,
  exercise: contractTerms.exercise,
  model: contractTerms.model,
  settlement: contractTerms.settlement,
  multiplier: contractTerms.multiplier,
  currency: contractTerms.currency,
  foreignCurrency: contractTerms.foreignCurrency,
  zone: contractTerms.zone,
  optionTick: contractTerms.optionTick,
  underlyingTick: contractTerms.underlyingTick,
};

function select(database: Database | Transaction) {
  return database
    .select(columns)
    .from(underlyings)
    .innerJoin(contractTerms, eq(contractTerms.underlyingId, underlyings.id));
}

/** All underlyings in the order they were listed. */
export function listUnderlyings(database: Database | Transaction): Promise<StoredUnderlying[]> {
  return select(database).orderBy(asc(underlyings.id));
}

export async function underlyingById(
  database: Database | Transaction,
  id: number,
): Promise<StoredUnderlying | undefined> {
  const [row] = await select(database).where(eq(underlyings.id, id));
  return row;
}

export async function findUnderlying(
  database: Database | Transaction,
  symbol: string,
): Promise<StoredUnderlying | undefined> {
  const [row] = await select(database).where(eq(underlyings.symbol, symbol));
  return row;
}

/** Replaces name and terms of an underlying; the symbol stays. */
export async function updateUnderlying(
  database: Database | Transaction,
  id: number,
  { symbol: _symbol, name, sector, source, ...terms }: NewUnderlying,
): Promise<void> {
  await database.update(underlyings).set({ name, sector, source }).where(eq(underlyings.id, id));
  await database.update(contractTerms).set(terms).where(eq(contractTerms.underlyingId, id));
}

/** Stores an underlying with its terms and returns its id; the symbol must be new. */
export async function insertUnderlying(database: Database | Transaction, o: NewUnderlying): Promise<number> {
  const { symbol, name, sector, source, ...terms } = o;
  const [{ id }] = await database
    .insert(underlyings)
    .values({ symbol, name, sector, source })
    .returning({ id: underlyings.id });
  await database.insert(contractTerms).values({ underlyingId: id, ...terms });
  return id;
}
