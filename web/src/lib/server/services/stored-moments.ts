import type { Database } from '../database/connect.ts';
import { momentAmong, type StoredMoment } from '../derive/moment.ts';
import { sessionDate } from '../derive/session-date.ts';
import { type DataVersion, instantsVersion, underlyingsVersion, versionsFor } from '../repositories/data-version.ts';
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

/** An underlying with the versions of what is stored of it. */
export interface VersionedUnderlying {
  stored: StoredUnderlying;
  /** Of which instants there are */
  instants: DataVersion;
  /** Of what a picture is made of, up to the instant that was asked for */
  picture: DataVersion;
}

/** An underlying with its versions up to an instant, in one look where the underlying is as it was when last seen. */
export async function versionedUnderlying(
  database: Database,
  symbol: string,
  upTo: Date | undefined,
): Promise<VersionedUnderlying | undefined> {
  const last = oneMemory.last(symbol);
  const seen = await last?.answer.catch(() => undefined);
  if (last && seen) {
    const versions = await versionsFor(database, seen, upTo);
    if (versions.underlyings === last.version) return { stored: seen, ...versions };
  }
  const stored = await knownUnderlying(database, symbol);
  return stored && { stored, ...(await versionsFor(database, stored, upTo)) };
}

/** All underlyings as pages see them. */
export async function knownUnderlyings(database: Database): Promise<StoredUnderlying[]> {
  return allMemory.recall('', await underlyingsVersion(database), () => listUnderlyings(database));
}

/** Dates of the sessions with quotes from one instant up to but not including that of another. */
export async function storedSessions(
  database: Database,
  o: { id: number; zone: string },
  from: Date,
  to: Date,
): Promise<string[]> {
  const version = await instantsVersion(database, o.id);
  const instants = await instantsMemory.recall(String(o.id), version, () => storedInstants(database, o.id));
  const end = sessionDate(to, o.zone);
  const dates = new Set(instants.filter((at) => at >= from && at < to).map((at) => sessionDate(at, o.zone)));
  dates.delete(end);
  return [...dates];
}

/**
 * The stored instant at or before the given one (the first when there is none, the latest without one) with its neighbors;
 * undefined when none is stored.
 * @param known version of the instants, where it was read just now
 */
export async function storedMoment(
  database: Database,
  o: { id: number; zone: string },
  at: Date | undefined,
  known?: DataVersion,
): Promise<StoredMoment | undefined> {
  const version = known ?? (await instantsVersion(database, o.id));
  const instants = await instantsMemory.recall(String(o.id), version, () => storedInstants(database, o.id));
  return momentAmong(instants, o.zone, at);
}
