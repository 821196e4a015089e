import { isoInZone } from '@umwelt/market/zone';
import type { Database } from '../database/connect.ts';
import { storedInstants } from '../repositories/slices.ts';
import { findUnderlying, type StoredUnderlying } from '../repositories/underlyings.ts';
import { storedMoment } from './stored-moments.ts';

/** An underlying as it is told of: its number is the database's own. */
export function withoutId({ id: _id, ...underlying }: StoredUnderlying): Omit<StoredUnderlying, 'id'> {
  return underlying;
}

/** An underlying with the first and the latest instant that are stored of it; undefined of an unknown one. */
export async function underlyingWithBounds(database: Database, symbol: string) {
  const found = await findUnderlying(database, symbol);
  if (!found) return undefined;
  const around = await storedMoment(database, found, undefined);
  const iso = (at: Date | undefined) => (at ? isoInZone(at.getTime(), found.zone) : null);
  return { ...withoutId(found), first: iso(around?.first), latest: iso(around?.latest) };
}

/** Instants at which quotes of an underlying are stored, newest first; undefined of an unknown one. */
export async function instantsOf(database: Database, symbol: string): Promise<string[] | undefined> {
  const found = await findUnderlying(database, symbol);
  if (!found) return undefined;
  const instants = await storedInstants(database, found.id);
  return instants.reverse().map((at) => isoInZone(at.getTime(), found.zone));
}
