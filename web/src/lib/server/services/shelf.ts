import type { KeepRequest, KeptStructure } from '../../api/kept-structure.ts';
import type { Database, Transaction } from '../database/connect.ts';
import {
  changeKeptStructure,
  deleteKeptStructure,
  holdKeptStructure,
  keptCount,
  keptStructuresOf,
  saveKeptStructures,
  type StoredKeptStructure,
} from '../repositories/kept-structures.ts';
import { entityTag } from './entity-tag.ts';
import { withinLimit } from './within-limit.ts';

/** Kept by one user; a limit that nobody reaches by hand. */
const MOST_KEPT = 1000;

/** All that an owner keeps, newest first. */
export const shelfOwned = async (database: Database, owner: string): Promise<KeptStructure[]> =>
  (await keptStructuresOf(database, owner)).map(tagged);

/** With the tag of what of it may be changed. */
const tagged = (kept: StoredKeptStructure): KeptStructure => ({
  ...kept,
  etag: entityTag([kept.name, kept.tags]),
});

/** A kept structure that somebody else changed before; undefined where the owner keeps none of that identifier. */
type Unchanged = { ok: false; now: KeptStructure | undefined };

/** @param means whether the request means what is kept now */
export function renameKept(
  database: Database,
  o: { owner: string; id: string; change: Pick<KeptStructure, 'name' | 'tags'>; means: (etag: string) => boolean },
): Promise<{ ok: true; kept: KeptStructure } | Unchanged> {
  return whereMeant(database, o, async (transaction) => {
    const changed = await changeKeptStructure(transaction, o);
    return changed ? { ok: true, kept: tagged(changed) } : { ok: false, now: undefined };
  });
}

/** @param means whether the request means what is kept now */
export function dropKept(
  database: Database,
  o: { owner: string; id: string; means: (etag: string) => boolean },
): Promise<{ ok: true } | Unchanged> {
  return whereMeant(database, o, async (transaction) =>
    (await deleteKeptStructure(transaction, o)) ? { ok: true } : { ok: false, now: undefined },
  );
}

/** Does something with a kept structure that nobody else changes meanwhile. */
function whereMeant<T>(
  database: Database,
  o: { owner: string; id: string; means: (etag: string) => boolean },
  work: (transaction: Transaction) => Promise<T>,
): Promise<T | Unchanged> {
  return database.transaction(async (transaction) => {
    const found = await holdKeptStructure(transaction, o);
    const now = found && tagged(found);
    return now && o.means(now.etag) ? work(transaction) : { ok: false, now };
  });
}

/** Keeps structures, all or none. */
export async function keepStructures(
  database: Database,
  owner: string,
  requests: readonly KeepRequest[],
): Promise<{ ok: true; kept: KeptStructure[] } | { ok: false; reason: string }> {
  const limit = { of: `kept structures ${owner}`, most: MOST_KEPT, adds: requests.length };
  const count = (transaction: Transaction) => keptCount(transaction, owner);
  const kept = await withinLimit(database, { ...limit, count }, (transaction) =>
    saveKeptStructures(transaction, owner, requests),
  );
  if (kept.ok) return { ok: true, kept: kept.added.map(tagged) };
  const reason = `the Shelf holds ${MOST_KEPT} structures, and ${kept.kept} are on it: delete some first`;
  return { ok: false, reason };
}
