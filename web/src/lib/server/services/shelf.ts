import { parse } from 'csv-parse/sync';
import { keepRequest, type KeepRequest, type KeptStructure, requestOfRow } from '../../api/kept-structure.ts';
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

/** What is wrong with a file, and where. */
export interface ShelfTrouble {
  /** Counted from 1 */
  row: number;
  path: string;
  message: string;
}

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

/**
 * Structures of a file that was exported: JSON, a list or what the API answers, or CSV with its heads.
 * @returns all of them, or what is wrong with each row that is none
 */
export function shelfOf(text: string): { ok: true; requests: KeepRequest[] } | { ok: false; troubles: ShelfTrouble[] } {
  const read = rowsOf(text);
  if (!read.ok) return { ok: false, troubles: [{ row: 1, path: '', message: read.message }] };
  if (read.rows.length === 0)
    return { ok: false, troubles: [{ row: 1, path: '', message: 'the file holds no structures' }] };
  const requests: KeepRequest[] = [];
  const troubles: ShelfTrouble[] = [];
  for (const [i, row] of read.rows.entries()) {
    const parsed = keepRequest.safeParse(row);
    if (parsed.success) requests.push(parsed.data);
    else
      troubles.push(...parsed.error.issues.map(({ path, message }) => ({ row: i + 1, path: path.join('.'), message })));
  }
  return troubles.length > 0 ? { ok: false, troubles } : { ok: true, requests };
}

function rowsOf(text: string): { ok: true; rows: unknown[] } | { ok: false; message: string } {
  const start = text.trimStart();
  if (start.startsWith('[') || start.startsWith('{')) {
    try {
      const said: unknown = JSON.parse(text);
      if (Array.isArray(said)) return { ok: true, rows: said };
      const { structures } = said as { structures?: unknown };
      return Array.isArray(structures)
        ? { ok: true, rows: structures }
        : { ok: false, message: 'the JSON is no list of structures, nor has it one called structures' };
    } catch (error) {
      return { ok: false, message: `the file is no JSON: ${error instanceof Error ? error.message : String(error)}` };
    }
  }
  try {
    const rows: Record<string, string>[] = parse(text, {
      columns: true,
      skip_empty_lines: true,
      bom: true,
      trim: true,
    });
    const lacking = ['name', 'symbol', 'legs'].filter((head) => rows.length > 0 && !(head in rows[0]));
    if (lacking.length > 0) return { ok: false, message: `the first line lacks the heads ${lacking.join(', ')}` };
    return { ok: true, rows: rows.map(requestOfRow) };
  } catch (error) {
    return { ok: false, message: `the file is no CSV: ${error instanceof Error ? error.message : String(error)}` };
  }
}
