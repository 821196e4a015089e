import type { Database } from '../database/connect.ts';
import { storedInstants } from '../repositories/slices.ts';
import { findUnderlying, listUnderlyings, type StoredUnderlying } from '../repositories/underlyings.ts';
import { momentAmong, type StoredMoment } from '../derive/moment.ts';
import { ShortMemory } from './short-memory.ts';

/** How old the answer to "what is stored?" may be on a page, milliseconds: looking it up takes longer than the rest of a page. */
const MAY_BE_OLD = 1000;
const instantsMemory = new ShortMemory<Date[]>(MAY_BE_OLD);
const oneMemory = new ShortMemory<StoredUnderlying | undefined>(MAY_BE_OLD);
const allMemory = new ShortMemory<StoredUnderlying[]>(MAY_BE_OLD);

/** Forgets what is stored, after something was changed here. */
export function forgetStored(): void {
  instantsMemory.forget();
  oneMemory.forget();
  allMemory.forget();
}

/** An underlying as pages see it: at most a second old. */
export function knownUnderlying(database: Database, symbol: string): Promise<StoredUnderlying | undefined> {
  return oneMemory.recall(symbol, () => findUnderlying(database, symbol));
}

/** All underlyings as pages see them: at most a second old. */
export function knownUnderlyings(database: Database): Promise<StoredUnderlying[]> {
  return allMemory.recall('', () => listUnderlyings(database));
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
  const instants = await instantsMemory.recall(String(o.id), () => storedInstants(database, o.id));
  return momentAmong(instants, o.zone, at);
}
