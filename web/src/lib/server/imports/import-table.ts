import { FILE_LIMITS, type FileLimits } from '@umwelt/market/file-limits';
import type { TableProblem } from '@umwelt/market/table-file';
import { currencyPair, type GuessedTerms, guessTerms } from '@umwelt/market/terms';
import { SESSION_CLOSE, VELDMAR_ZONE } from '@umwelt/market/zone';
import type { TableImport } from '../../api/table-export.ts';
import type { Connection, Session } from '../database/connect.ts';
import { recordNewUnderlying, trimImages } from '../repositories/import-images.ts';
import { forgetImport, recordImport, recordRefusal } from '../repositories/imports.ts';
import {
  copyTableRows,
  createTableStaging,
  doubleRows,
  dropTableStaging,
  type ImportedTable,
  stagedSymbols,
  storeStagedRows,
} from '../repositories/table-staging.ts';
import { insertUnderlying, type NewUnderlying, type StoredUnderlying } from '../repositories/underlyings.ts';
import { type ImportFailure, readFailure, ReaderFailed, withoutNul } from './import-failure.ts';
import { copyRead, ReaderProcess, type ReadOutcome } from './read-apart.ts';
import type { SpooledFile } from './spool.ts';

export type TableImportOutcome =
  | { ok: true; id: string | null; rows: number; changed: number; underlyings: string[] }
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

/** Imports a table in one transaction, all or nothing; rows that are stored otherwise are replaced, and can be taken back. */
export async function importTable(connection: Connection, owner: string, o: Undertaking): Promise<TableImportOutcome> {
  try {
    const done = await stageAndStore(connection, owner, o);
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

function stageAndStore(
  connection: Connection,
  owner: string,
  o: Undertaking,
): Promise<Omit<Extract<TableImportOutcome, { ok: true }>, 'ok'>> {
  const { table, file } = o;
  return connection.session(async (session) => {
    const { sql } = session;
    o.signal?.throwIfAborted();
    await createTableStaging(sql, table);
    const rows = await stageRows(session, o);
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
    const stored = await session.transaction(() => storeStaged(session, owner, o, rows));
    await dropTableStaging(sql);
    return { ...stored, rows };
  }, o.signal);
}

async function storeStaged({ sql, database }: Session, owner: string, o: Undertaking, rows: number) {
  const { table, file, options } = o;
  const { fileName, ...remembered } = options;
  const id = await recordImport(database, {
    ...{ owner, fileName, table, sha256: file.sha256, options: remembered, rows, slices: 0, leftOut: 0 },
  });
  const symbols = table === 'rates' ? [] : await stagedSymbols(sql);
  for (const { symbol, isKnown } of symbols) {
    if (!isKnown) await recordNewUnderlying(sql, id, await insertUnderlying(database, newUnderlying(symbol, options)));
  }
  const changed = await storeStagedRows(sql, table, id);
  if (changed > 0) await trimImages(sql, id);
  else await forgetImport(database, id);
  o.signal?.throwIfAborted();
  return { id: changed > 0 ? id : null, changed, underlyings: symbols.map((s) => s.symbol) };
}

async function stageRows(session: Session, o: Undertaking): Promise<number> {
  const end = await readTableInto(session, o);
  if (end.type !== 'table') throw new Refused({ ok: false, reason: 'unreadable', failure: readFailure(end) });
  if (end.problems.length > 0)
    throw new Refused({ ok: false, reason: 'bad-rows', problems: end.problems.slice(0, MOST_PROBLEMS) });
  return end.rows;
}

/** Reads a table in a process apart into the staging table, which holds nothing of one with problems. */
export async function readTableInto(
  session: Pick<Session, 'client'>,
  { table, file, options, signal, limits = FILE_LIMITS }: Undertaking,
): Promise<Exclude<ReadOutcome, { type: 'chain' }>> {
  const reader = new ReaderProcess({
    signal,
    onprogress: (share, count) => (file.progress = { stage: 'reading', share, rows: count }),
  });
  const reading = reader.read({
    ...{ kind: 'table', path: file.path, limits, table, of: options.of, mostProblems: MOST_PROBLEMS },
    zone: options.zone ?? VELDMAR_ZONE,
  });
  const copy = await copyTableRows(session);
  try {
    const end = await copyRead(reading, copy, signal);
    if (end.type === 'chain') throw new ReaderFailed('a chain came where a table was read');
    if (end.type === 'table' && end.problems.length === 0) await copy.end();
    else await copy.abort(new Error('the file is not taken in'));
    return end;
  } catch (error) {
    reading.rows.destroy();
    await copy.abort(error instanceof Error ? error : new Error('interrupted'));
    throw error;
  } finally {
    reader.end();
  }
}

/** Terms of an underlying of a table: as stored, as said, or as they are guessed of one without quotes. */
export function termsOfTable(symbol: string, { terms = {} }: TableImport, stored?: StoredUnderlying): GuessedTerms {
  const told = (of: object, reason: string) =>
    Object.fromEntries(Object.entries(of).map(([field, value]) => [field, { value, reason }]));
  if (stored) {
    const { kind, exercise, model, multiplier, currency } = stored;
    return told({ kind, exercise, model, multiplier, currency }, 'as stored') as unknown as GuessedTerms;
  }
  const facts = Object.entries(terms).map(([field, value]) => ({ field, value: String(value), from: 'you' }));
  return { ...guessTerms({ symbol, slices: [], facts }), ...told(terms, 'you said so') };
}

/** A new underlying with these terms. */
function newUnderlying(symbol: string, options: TableImport): NewUnderlying {
  const { kind, exercise, model, multiplier, currency } = termsOfTable(symbol, options);
  return {
    symbol,
    name: symbol,
    sector: 'Imported',
    source: 'import',
    kind: kind.value,
    exercise: exercise.value,
    model: model.value,
    settlement: kind.value === 'index' || kind.value === 'currency' ? 'cash' : 'physical',
    multiplier: multiplier.value,
    currency: currency.value,
    foreignCurrency: kind.value === 'currency' ? (currencyPair(symbol)?.[0] ?? null) : null,
    zone: options.zone ?? VELDMAR_ZONE,
    sessionClose: options.sessionClose ?? SESSION_CLOSE,
    optionTick: null,
    underlyingTick: null,
  };
}
