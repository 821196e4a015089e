import { FILE_LIMITS, type FileLimits } from '@umwelt/market/file-limits';
import type { TableProblem } from '@umwelt/market/table-file';
import type { TableImport } from '../../schema/table-export.ts';
import { type Connection, onTransaction } from '../database/connect.ts';
import { recordRefusal, recordTableImport } from '../repositories/imports.ts';
import {
  copyTableRows,
  createTableStaging,
  doubleRows,
  dropTableStaging,
  type ImportedTable,
  stagedSymbols,
  storeStagedRows,
} from '../repositories/table-staging.ts';
import { insertUnderlying } from '../repositories/underlyings.ts';
import { clearPictures } from '../services/picture.ts';
import { type ImportFailure, readFailure, ReaderFailed, withoutNul } from './import-chain.ts';
import { copyRead, readApart } from './read-apart.ts';
import type { SpooledFile } from './spool.ts';

export type { ImportedTable };
export type TableImportOutcome =
  | { ok: true; rows: number; underlyings: string[] }
  | { ok: false; reason: 'bad-rows'; problems: TableProblem[] }
  | { ok: false; reason: 'unreadable'; failure: ImportFailure };

const MOST_PROBLEMS = 200;

class Refused extends Error {
  readonly outcome: Extract<TableImportOutcome, { ok: false }>;
  constructor(outcome: Refused['outcome']) {
    super(outcome.reason);
    this.outcome = outcome;
  }
}

interface Undertaking {
  table: ImportedTable;
  file: SpooledFile;
  options: TableImport;
  signal?: AbortSignal;
  limits?: FileLimits;
}

/** Imports a table in one transaction, all or nothing; rows that are stored already are replaced. */
export async function importTable(connection: Connection, owner: string, o: Undertaking): Promise<TableImportOutcome> {
  try {
    const done = await stageAndStore(connection, owner, o);
    clearPictures();
    return { ok: true, ...done };
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    const { outcome } = error;
    const problems = (outcome.reason === 'bad-rows' ? outcome.problems : []).map((p) => ({
      ...p,
      value: withoutNul(p.value),
    }));
    const count = `${problems.length} ${problems.length === 1 ? 'row is' : 'rows are'} wrong; nothing was stored`;
    const message = outcome.reason === 'bad-rows' ? count : outcome.failure.reason;
    const { fileName } = o.options;
    await recordRefusal(connection.database, { owner, fileName, table: o.table, refusal: { message, problems } });
    return outcome;
  }
}

async function stageAndStore(
  connection: Connection,
  owner: string,
  o: Undertaking,
): Promise<{ rows: number; underlyings: string[] }> {
  const { table, file, options } = o;
  const sql = await connection.sql.reserve();
  try {
    o.signal?.throwIfAborted();
    await createTableStaging(sql, table);
    const rows = await stageRows(sql, o);
    const { columns, rows: doubles } = await doubleRows(sql, table, MOST_PROBLEMS);
    if (doubles.length > 0) {
      const problems = doubles.map(({ line, first, value }) => ({
        row: line,
        column: columns.join(', '),
        value,
        remedy: `the same as row ${first}; keep one`,
      }));
      throw new Refused({ ok: false, reason: 'bad-rows', problems });
    }
    file.progress = { stage: 'storing', share: 0, rows };
    await sql`begin`;
    try {
      const database = onTransaction(sql as never, connection.sql);
      const symbols = table === 'rates' ? [] : await stagedSymbols(sql);
      for (const { symbol, isKnown } of symbols) {
        if (!isKnown) await insertUnderlying(database, plainUnderlying(symbol, options.zone));
      }
      await storeStagedRows(sql, table);
      const { fileName, ...remembered } = options;
      await recordTableImport(database, { owner, fileName, table, sha256: file.sha256, options: remembered, rows });
      o.signal?.throwIfAborted();
      await sql`commit`;
      return { rows, underlyings: symbols.map((s) => s.symbol) };
    } catch (error) {
      await sql`rollback`.catch(() => undefined);
      throw error;
    }
  } finally {
    await dropTableStaging(sql).catch(() => undefined);
    sql.release();
  }
}

async function stageRows(
  sql: Parameters<typeof createTableStaging>[0],
  { table, file, options, signal, limits = FILE_LIMITS }: Undertaking,
): Promise<number> {
  const { zone, of } = options;
  const reading = readApart(
    { kind: 'table', path: file.path, limits, table, of, zone, mostProblems: MOST_PROBLEMS },
    { signal, onprogress: (share, count) => (file.progress = { stage: 'reading', share, rows: count }) },
  );
  const copy = await copyTableRows(sql);
  try {
    const end = await copyRead(reading, copy, signal);
    if (end.type === 'chain') throw new ReaderFailed('a chain came where a table was read');
    if (end.type !== 'table') throw new Refused({ ok: false, reason: 'unreadable', failure: readFailure(end) });
    if (end.problems.length > 0)
      throw new Refused({ ok: false, reason: 'bad-rows', problems: end.problems.slice(0, MOST_PROBLEMS) });
    await copy.end();
    return end.rows;
  } catch (error) {
    reading.rows.destroy();
    copy.abort(error instanceof Error ? error : new Error('interrupted'));
    throw error;
  }
}

/** A new underlying with plain terms. */
function plainUnderlying(symbol: string, zone: string) {
  return {
    symbol,
    name: symbol,
    sector: 'Imported',
    source: 'import' as const,
    kind: 'index' as const,
    exercise: 'european' as const,
    model: 'spot' as const,
    settlement: 'cash' as const,
    multiplier: 100,
    currency: 'XTS',
    foreignCurrency: null,
    zone,
    optionTick: null,
    underlyingTick: null,
  };
}
