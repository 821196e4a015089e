import type { Database } from '../database/connect.ts';
import { clearRefusals, listImports } from '../repositories/imports.ts';

/** Imports of an owner as they are told of, newest first. */
export async function importsOf(database: Database, owner: string) {
  const rows = await listImports(database, owner);
  return rows.map(({ id, fileName, table, rows: count, slices, leftOut, undo, refusal, createdAt }) => ({
    ...{ id, fileName, table, rows: count, slices, leftOut, undo, refusal },
    createdAt: createdAt.toISOString(),
  }));
}

/** Takes refused files off an owner's list. @returns how many */
export function clearRefused(database: Database, owner: string): Promise<number> {
  return clearRefusals(database, owner);
}
