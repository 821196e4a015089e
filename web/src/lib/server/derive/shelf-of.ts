import { unescapeFormula } from '@umwelt/market/table-format';
import { parse } from 'csv-parse/sync';
import { keepRequest, type KeepRequest, requestOfRow } from '../../api/kept-structure.ts';

/** What is wrong with a file, and where. */
export interface ShelfTrouble {
  /** Counted from 1 */
  row: number;
  path: string;
  message: string;
}

export type ShelfRead = { ok: true; requests: KeepRequest[] } | { ok: false; troubles: ShelfTrouble[] };

/** As many as one user may keep. */
const MOST_ROWS = 1000;
/** More of them tell nothing new. */
const MOST_TROUBLES = 20;

/**
 * Structures of a file that was exported: JSON, a list or what the API answers, or CSV with its heads.
 * @returns all of them, or what is wrong with each row that is none
 */
export function shelfOf(text: string): ShelfRead {
  const read = rowsOf(text);
  if (!read.ok) return { ok: false, troubles: [{ row: 1, path: '', message: read.message }] };
  if (read.rows.length === 0)
    return { ok: false, troubles: [{ row: 1, path: '', message: 'the file holds no structures' }] };
  if (read.rows.length > MOST_ROWS) {
    const message = `${read.rows.length} structures, at most ${MOST_ROWS} at once: divide the file`;
    return { ok: false, troubles: [{ row: MOST_ROWS + 1, path: '', message }] };
  }
  const requests: KeepRequest[] = [];
  const troubles: ShelfTrouble[] = [];
  for (const [i, row] of read.rows.entries()) {
    if (troubles.length >= MOST_TROUBLES) break;
    const parsed = keepRequest.safeParse(asked(row));
    if (parsed.success) requests.push(parsed.data);
    else
      troubles.push(...parsed.error.issues.map(({ path, message }) => ({ row: i + 1, path: path.join('.'), message })));
  }
  return troubles.length > 0 ? { ok: false, troubles: troubles.slice(0, MOST_TROUBLES) } : { ok: true, requests };
}

/** A structure of an export without what it was kept under there. */
function asked(row: unknown): unknown {
  if (typeof row !== 'object' || row === null || Array.isArray(row)) return row;
  const { id: _id, etag: _etag, ...request } = row as Record<string, unknown>;
  return request;
}

/** Cells without what guards a spreadsheet against formulas. */
const readable = (row: Record<string, string>) =>
  Object.fromEntries(Object.entries(row).map(([head, text]) => [head, unescapeFormula(text)]));

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
    return { ok: true, rows: rows.map((row) => requestOfRow(readable(row))) };
  } catch (error) {
    return { ok: false, message: `the file is no CSV: ${error instanceof Error ? error.message : String(error)}` };
  }
}
