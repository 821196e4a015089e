import type { Database } from '../database/connect.ts';
import { storedInstants } from '../repositories/slices.ts';
import { findUnderlying, listUnderlyings, type StoredUnderlying } from '../repositories/underlyings.ts';
import { sessionDate } from './session-date.ts';
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

/** A stored instant with its neighbors. */
export interface StoredMoment {
  instant: Date;
  previous: Date | undefined;
  next: Date | undefined;
  /** Last instants of the sessions before and after */
  previousSession: Date | undefined;
  nextSession: Date | undefined;
  first: Date;
  latest: Date;
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

/** The same among given instants, ascending. @param zone whose civil dates are the sessions */
export function momentAmong(instants: readonly Date[], zone: string, at: Date | undefined): StoredMoment | undefined {
  if (instants.length === 0) return undefined;
  const last = instants.length - 1;
  const place = at === undefined ? last : Math.max(0, lastAtOrBefore(instants, at));
  const dateAt = (i: number) => sessionDate(instants[i], zone);
  const session = dateAt(place);
  let before = place;
  while (before >= 0 && dateAt(before) === session) before--;
  let after = place;
  while (after <= last && dateAt(after) === session) after++;
  let end = after;
  while (end < last && dateAt(end + 1) === dateAt(after)) end++;
  return {
    instant: instants[place],
    previous: instants[place - 1],
    next: instants[place + 1],
    previousSession: instants[before],
    nextSession: after <= last ? instants[end] : undefined,
    first: instants[0],
    latest: instants[last],
  };
}

/** Place of the last instant at or before another; -1 when all come after it. */
function lastAtOrBefore(instants: readonly Date[], at: Date): number {
  let [low, high] = [0, instants.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (instants[middle] <= at) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
