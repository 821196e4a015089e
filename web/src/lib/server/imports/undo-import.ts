import type PgBoss from 'pg-boss';
import type { Connection } from '../database/connect.ts';
import { undoImages } from '../repositories/import-images.ts';
import { findImport } from '../repositories/imports.ts';
import { deriveLater } from '../services/derive-later.ts';

export type UndoOutcome =
  | { ok: true; restored: number; kept: number; removed: string[] }
  | { ok: false; reason: 'unknown' }
  | { ok: false; reason: 'not-possible'; undo: 'undone' | 'dropped' | 'never' };

/** Takes an import back in one transaction: what it wrote becomes what it was, but for rows that were changed since. */
export function undoImport(
  connection: Connection,
  owner: string,
  id: string,
  o: { signal?: AbortSignal; queue?: () => Promise<PgBoss> } = {},
): Promise<UndoOutcome> {
  return connection.transaction(async (session): Promise<UndoOutcome> => {
    const found = await findImport(session.database, owner, id);
    if (!found || found.refusal) return { ok: false, reason: 'unknown' };
    if (found.undo !== 'possible') return { ok: false, reason: 'not-possible', undo: found.undo };
    const { restored, kept, removed, instants } = await undoImages(session.sql, id);
    await deriveLater(session, { owner, group: 'Measures after taking an import back', instants, queue: o.queue });
    o.signal?.throwIfAborted();
    return { ok: true, restored, kept, removed };
  }, o.signal);
}
