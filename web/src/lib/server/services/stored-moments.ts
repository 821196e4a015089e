import type { Database } from '../database/connect.ts';
import { momentAmong, type StoredMoment } from '../derive/moment.ts';
import { instantsVersion, underlyingsVersion } from '../repositories/data-version.ts';
import { storedInstants } from '../repositories/slices.ts';
import { findUnderlying, listUnderlyings, type StoredUnderlying } from '../repositories/underlyings.ts';
import { VersionedMemory } from './versioned-memory.ts';

/** Looking up what is stored takes longer than the rest of a page. */
const instantsMemory = new VersionedMemory<Date[]>(200);
const oneMemory = new VersionedMemory<StoredUnderlying | undefined>(500);
const allMemory = new VersionedMemory<StoredUnderlying[]>(1);

/** An underlying as pages see it. */
export async function knownUnderlying(database: Database, symbol: string): Promise<StoredUnderlying | undefined> {
  const version = await underlyingsVersion(database);
  return oneMemory.recall(symbol, version, () => findUnderlying(database, symbol));
}

/** All underlyings as pages see them. */
export async function knownUnderlyings(database: Database): Promise<StoredUnderlying[]> {
  return allMemory.recall('', await underlyingsVersion(database), () => listUnderlyings(database));
}

/**
 * The stored instant at or before the given one (the first when there is none, the latest without one) with its neighbors;
 * undefined when none is stored.
 */
export async function storedMoment(
  database: Database,
  o: { id: number; zone: string },
  at: Date | undefined,
): Promise<StoredMoment | undefined> {
  const version = await instantsVersion(database, o.id);
  const instants = await instantsMemory.recall(String(o.id), version, () => storedInstants(database, o.id));
  return momentAmong(instants, o.zone, at);
}
