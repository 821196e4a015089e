import { and, asc, eq, ne, sql } from 'drizzle-orm';
import type { UnderlyingSummary } from '../../api/underlying.ts';
import type { Database, Transaction } from '../database/connect.ts';
import {
  contractTerms,
  formerSymbols,
  frozenLevels,
  keptStructures,
  smileLinks,
  underlyings,
} from '../database/schema.ts';

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
  sessionClose: contractTerms.sessionClose,
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

/** An underlying by its symbol, in any case where only one is meant, or by one that it had before. */
export async function findUnderlying(
  database: Database | Transaction,
  symbol: string,
): Promise<StoredUnderlying | undefined> {
  const [exact] = await select(database).where(eq(underlyings.symbol, symbol));
  if (exact) return exact;
  const alike = await select(database).where(eq(sql`lower(${underlyings.symbol})`, symbol.toLowerCase()));
  if (alike.length === 1) return alike[0];
  const [renamed] = await select(database)
    .innerJoin(formerSymbols, eq(formerSymbols.underlyingId, underlyings.id))
    .where(eq(formerSymbols.symbol, symbol));
  return renamed && (await underlyingById(database, renamed.id));
}

/** Time zones of the stored underlyings. */
export async function storedZones(database: Database | Transaction): Promise<string[]> {
  const rows = await database.selectDistinct({ zone: contractTerms.zone }).from(contractTerms);
  return rows.map((r) => r.zone);
}

/** Gives all underlyings of one zone another. */
export async function setZone(database: Database | Transaction, zone: string, next: string): Promise<void> {
  await database.update(contractTerms).set({ zone: next }).where(eq(contractTerms.zone, zone));
}

export type RenameResult = { ok: true } | { ok: false; reason: 'unknown' | 'not-yours' | 'taken' };

/**
 * Gives an underlying of a user's another symbol, in a transaction of the caller's: links of borrowed smiles go along, and the
 * old symbol leads to the new one.
 */
export async function renameUnderlying(
  database: Database | Transaction,
  symbol: string,
  next: string,
): Promise<RenameResult> {
  const [own] = await database.select().from(underlyings).where(eq(underlyings.symbol, symbol));
  if (!own) return { ok: false, reason: 'unknown' };
  if (own.source === 'demo') return { ok: false, reason: 'not-yours' };
  const alike = await database
    .select({ id: underlyings.id })
    .from(underlyings)
    .where(and(eq(sql`lower(${underlyings.symbol})`, next.toLowerCase()), ne(underlyings.id, own.id)));
  if (alike.length > 0) return { ok: false, reason: 'taken' };
  await database.update(underlyings).set({ symbol: next }).where(eq(underlyings.id, own.id));
  await database.update(frozenLevels).set({ symbol: next }).where(eq(frozenLevels.symbol, symbol));
  await database.update(keptStructures).set({ symbol: next }).where(eq(keptStructures.symbol, symbol));
  await database.update(smileLinks).set({ symbol: next }).where(eq(smileLinks.symbol, symbol));
  await database.update(smileLinks).set({ donor: next }).where(eq(smileLinks.donor, symbol));
  await database.delete(formerSymbols).where(eq(formerSymbols.symbol, next));
  await database
    .insert(formerSymbols)
    .values({ symbol, underlyingId: own.id })
    .onConflictDoUpdate({ target: formerSymbols.symbol, set: { underlyingId: own.id } });
  return { ok: true };
}

/** Takes an underlying of a user's out with all that is stored of it; false when there is none of this symbol. */
export async function deleteUnderlying(database: Database | Transaction, symbol: string): Promise<boolean> {
  const gone = await database
    .delete(underlyings)
    .where(and(eq(underlyings.symbol, symbol), eq(underlyings.source, 'import')))
    .returning({ id: underlyings.id });
  return gone.length > 0;
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

/** Changes terms of an underlying. */
export async function updateTerms(
  database: Database | Transaction,
  id: number,
  terms: Partial<typeof contractTerms.$inferInsert>,
): Promise<void> {
  await database.update(contractTerms).set(terms).where(eq(contractTerms.underlyingId, id));
}
