import type { KeepRequest, KeptStructure } from '../../api/kept-structure.ts';
import type { Database } from '../database/connect.ts';
import {
  changeKeptStructure,
  deleteKeptStructure,
  keptCount,
  keptStructuresOf,
  saveKeptStructures,
} from '../repositories/kept-structures.ts';

/** Kept by one user; a limit that nobody reaches by hand. */
const MOST_KEPT = 1000;

/** All that an owner keeps, newest first. */
export const shelfOwned = (database: Database, owner: string): Promise<KeptStructure[]> =>
  keptStructuresOf(database, owner);

/** @returns undefined where the owner keeps none of that identifier */
export const renameKept = (
  database: Database,
  o: { owner: string; id: string; change: Pick<KeptStructure, 'name' | 'tags'> },
): Promise<KeptStructure | undefined> => changeKeptStructure(database, o);

/** @returns whether the owner kept it */
export const dropKept = (database: Database, o: { owner: string; id: string }): Promise<boolean> =>
  deleteKeptStructure(database, o);

/** Keeps structures, all or none. */
export async function keepStructures(
  database: Database,
  owner: string,
  requests: readonly KeepRequest[],
): Promise<{ ok: true; kept: KeptStructure[] } | { ok: false; reason: string }> {
  return database.transaction(async (transaction) => {
    const kept = await keptCount(transaction, owner);
    if (kept + requests.length > MOST_KEPT)
      return {
        ok: false,
        reason: `the Shelf holds ${MOST_KEPT} structures, and ${kept} are on it: delete some first`,
      } as const;
    return { ok: true, kept: await saveKeptStructures(transaction, owner, requests) } as const;
  });
}
