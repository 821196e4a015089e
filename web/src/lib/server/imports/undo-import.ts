import type PgBoss from 'pg-boss';
import { type Connection, onTransaction } from '../database/connect.ts';
import { undoImages } from '../repositories/import-images.ts';
import { findImport } from '../repositories/imports.ts';
import { deriveLater } from '../services/derive-later.ts';

export type UndoOutcome =
  | { ok: true; restored: number; kept: number; removed: string[] }
  | { ok: false; reason: 'unknown' }
  | { ok: false; reason: 'not-possible'; undo: 'undone' | 'dropped' | 'never' };

/** Takes an import back in one transaction: what it wrote becomes what it was, but for rows that were changed since. */
export async function undoImport(
  connection: Connection,
  owner: string,
  id: string,
  o: { signal?: AbortSignal; queue?: () => Promise<PgBoss> } = {},
): Promise<UndoOutcome> {
  const sql = await connection.sql.reserve();
  try {
    await sql`begin`;
    try {
      const database = onTransaction(sql as never, connection.sql);
      const found = await findImport(database, owner, id);
      if (!found || found.refusal) {
        await sql`rollback`;
        return { ok: false, reason: 'unknown' };
      }
      if (found.undo !== 'possible') {
        await sql`rollback`;
        return { ok: false, reason: 'not-possible', undo: found.undo };
      }
      const { restored, kept, removed, instants } = await undoImages(sql, id);
      await deriveLater(sql, connection, {
        owner,
        group: 'Measures after taking an import back',
        instants,
        queue: o.queue,
      });
      o.signal?.throwIfAborted();
      await sql`commit`;
      return { ok: true, restored, kept, removed };
    } catch (error) {
      await sql`rollback`.catch(() => undefined);
      throw error;
    }
  } finally {
    sql.release();
  }
}
