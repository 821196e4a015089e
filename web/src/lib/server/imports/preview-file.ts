import { factsOfFileName } from '@umwelt/market/chain-file';
import { FILE_LIMITS } from '@umwelt/market/file-limits';
import type { ImportOptions } from '../../api/chain-import.ts';
import type { FilePreview, TableImport, TablePreview } from '../../api/table-export.ts';
import type { Connection } from '../database/connect.ts';
import {
  compareStagedRows,
  createTableStaging,
  dropTableStaging,
  type ImportedTable,
  stagedSymbols,
} from '../repositories/table-staging.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { type ImportFailure, readFailure } from './import-failure.ts';
import { readTableInto, termsOfTable } from './import-table.ts';
import { previewImport } from './preview-import.ts';
import { readerOf } from './stage-chain.ts';
import type { SpooledFile } from './spool.ts';

export type FilePreviewResult = { ok: true; preview: FilePreview } | { ok: false; failure: ImportFailure };

/** What an import of any file would do: a chain where it holds one, or else the table that its columns name. */
export async function previewFile(
  connection: Connection,
  owner: string,
  o: { files: readonly SpooledFile[]; fileName: string; options?: ImportOptions; signal?: AbortSignal },
): Promise<FilePreviewResult> {
  const reader = readerOf(o.files[0], o.signal);
  const look = await reader.look(o.files[0].path, {});
  if (look.type === 'look' && look.table === 'chains')
    return previewImport(connection, owner, { ...o, ...(o.options ? {} : { opened: { reader, look } }) }).finally(() =>
      reader.end(),
    );
  reader.end();
  o.signal?.throwIfAborted();
  if (look.type === 'look') {
    if (look.table === 'chains') throw new Error('a chain is looked at as a table');
    return previewTable(connection, { table: look.table, file: o.files[0], options: { fileName: o.fileName } });
  }
  if (look.type === 'chain' || look.type === 'table') throw new Error('a look ended as a reading');
  return { ok: false, failure: readFailure(look) };
}

/** What an import of a table would do; whose rows they are may be guessed by the file's name. */
export async function previewTable(
  connection: Connection,
  o: { table: ImportedTable; file: SpooledFile; options: TableImport; signal?: AbortSignal },
): Promise<FilePreviewResult> {
  const { table, file, options, signal } = o;
  const owner = table === 'rates' ? 'currency' : 'underlying';
  const named = factsOfFileName(options.fileName).find((f) => f.field === 'underlying')?.value;
  // Read without it first: a column of the file goes before its name.
  const first = await readPreview(connection, { table, file, options, of: options.of, signal });
  if (!first.ok) return first;
  const lacks = first.preview.problems.some((p) => p.row === 0 && p.column === owner);
  const of = options.of ?? (lacks ? (named ?? null) : null);
  if (!lacks || of === null)
    return { ok: true, preview: { ...first.preview, of, isOfNeeded: lacks || options.of !== undefined } };
  const second = await readPreview(connection, { table, file, options, of, signal });
  return second.ok ? { ok: true, preview: { ...second.preview, of, isOfNeeded: true } } : second;
}

async function readPreview(
  connection: Connection,
  o: { table: ImportedTable; file: SpooledFile; options: TableImport; of: string | undefined; signal?: AbortSignal },
): Promise<{ ok: true; preview: TablePreview } | { ok: false; failure: ImportFailure }> {
  const { table } = o;
  return connection.session(async (session) => {
    const { sql, database } = session;
    await createTableStaging(sql, table);
    const options = { ...o.options, of: o.of };
    const end = await readTableInto(session, { ...o, options, limits: FILE_LIMITS });
    if (end.type !== 'table') return { ok: false, failure: readFailure(end) };
    const isGood = end.problems.length === 0;
    const symbols = isGood && table !== 'rates' ? await stagedSymbols(sql) : [];
    const { columns, first, ...slices } = isGood
      ? await compareStagedRows(sql, table)
      : { columns: [], first: [], new: 0, changed: 0, same: 0 };
    const underlyings: TablePreview['underlyings'] = [];
    for (const { symbol, isKnown } of symbols.slice(0, 50)) {
      const stored = isKnown ? await findUnderlying(database, symbol) : undefined;
      underlyings.push({ symbol, isNew: !isKnown, terms: termsOfTable(symbol, options, stored) });
    }
    await dropTableStaging(sql);
    return {
      ok: true,
      preview: {
        ...{ table, of: o.of ?? null, isOfNeeded: o.of !== undefined },
        ...{ rows: end.rows, problems: end.problems.slice(0, 12), slices, columns, first, underlyings },
      },
    };
  }, o.signal);
}
