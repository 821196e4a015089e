import { open } from 'node:fs/promises';
import { gunzipSync, constants } from 'node:zlib';
import { detectFormat, missingColumns, type ReadChainOptions, type RowProblem } from '@umwelt/market/chain-file';
import { type ChainFormat, type ColumnMapping, mapColumns } from '@umwelt/market/chain-format';
import { FILE_LIMITS, type FileLimits, isGzip } from '@umwelt/market/file-limits';
import { tableFormatOf } from '@umwelt/market/table-file';
import type { TableFormat } from '@umwelt/market/table-format';
import { isoInZone } from '@umwelt/market/zone';
import { type ImportOptions, type ImportResult, MOST_STRIKES } from '../../schema/chain-import.ts';
import { compute } from '../compute/pool.ts';
import { type Connection, type Database, onTransaction } from '../database/connect.ts';
import { recordRefusal } from '../repositories/imports.ts';
import { ensurePartitions } from '../repositories/slices.ts';
import { listUnderlyings } from '../repositories/underlyings.ts';
import * as staging from '../repositories/chain-staging.ts';
import { deriveMeasures } from '../services/measure-history.ts';
import { clearPictures } from '../services/picture.ts';
import { copyRead, readApart, type ReadOutcome } from './read-apart.ts';
import type { SpooledFile } from './spool.ts';

/** Bad rows listed before reading stops: more tell nothing new. */
export const MAX_PROBLEMS = 1000;
export const SAMPLE_BYTES = 1 << 16;
/** A file holds at most so many years: each month of it is a table. */
const MOST_YEARS = 30;
const YEAR = 365.25 * 86_400_000;

export type ImportFailure =
  | { reason: 'empty' | 'binary' | 'no-table' | 'no-rows' | 'malformed' }
  | { reason: 'too-large'; limit: number }
  | { reason: 'limit'; limit: keyof FileLimits; most: number; found: number }
  | { reason: 'memory'; most: number }
  | { reason: 'span'; years: number; most: number }
  | { reason: 'missing-columns'; columns: string[] }
  | { reason: 'bad-rows'; problems: RowProblem[]; isTruncated: boolean };

/** Thrown inside the transaction so that the database rolls everything back. */
class Rejected extends Error {
  readonly failure: ImportFailure;
  constructor(failure: ImportFailure) {
    super(failure.reason);
    this.failure = failure;
  }
}

/** Thrown when a reader ends in a way that no file should bring about. */
export class ReaderFailed extends Error {}

/**
 * Imports a chain file, all or nothing: a process apart reads it row by row, the database gathers the rows, so that memory does
 * not grow with the file.
 * @param o.signal ends it and leaves nothing of it
 */
export async function importChain(
  connection: Connection,
  owner: string,
  file: SpooledFile,
  options: ImportOptions,
  o: { signal?: AbortSignal; limits?: FileLimits } = {},
): Promise<{ ok: true; result: ImportResult } | { ok: false; failure: ImportFailure }> {
  try {
    const plan = await planReading(file, options);
    const result = await stageAndStore(connection, owner, { file, options, plan, ...o });
    clearPictures();
    return { ok: true, result };
  } catch (error) {
    if (!(error instanceof Rejected)) throw error;
    await keepRefusal(connection.database, owner, options.fileName, error.failure);
    return { ok: false, failure: error.failure };
  }
}

/** Most of a refusal's rows that are kept for looking at later. */
const KEPT_PROBLEMS = 200;

async function keepRefusal(database: Database, owner: string, fileName: string, failure: ImportFailure): Promise<void> {
  const rows = failure.reason === 'bad-rows' ? failure.problems : [];
  const problems = rows
    .slice(0, KEPT_PROBLEMS)
    .map(({ line, field, value, remedy }) => ({ row: line, column: field, value: withoutNul(value), remedy }));
  const count = `${rows.length} ${rows.length === 1 ? 'row is' : 'rows are'}`;
  const message = rows.length > 0 ? `${count} wrong; nothing was stored` : failure.reason;
  await recordRefusal(database, { owner, fileName, table: 'chains', refusal: { message, problems } });
}

/** The database's texts have no NUL. */
export function withoutNul(text: string): string {
  return text.replaceAll('\u0000', '\ufffd');
}

type Sql = Parameters<typeof staging.createStaging>[0];
interface Undertaking {
  file: SpooledFile;
  options: ImportOptions;
  plan: ReadingPlan;
  signal?: AbortSignal;
  limits?: FileLimits;
}

/** Rows first go to a table of the connection alone; only then does a transaction begin that others may wait for. */
async function stageAndStore(connection: Connection, owner: string, o: Undertaking): Promise<ImportResult> {
  const sql = await connection.sql.reserve();
  try {
    o.signal?.throwIfAborted();
    await staging.createStaging(sql);
    const rows = await stageRows(sql, o);
    if (rows === 0) throw new Rejected({ reason: 'no-rows' });
    const extent = await staging.stagedExtent(sql);
    checkExtent(extent);
    const duplicates = await staging.duplicateRows(sql, MAX_PROBLEMS);
    if (duplicates.length > 0) throw new Rejected(duplicateProblems(duplicates));
    o.file.progress = { stage: 'storing', share: 0, rows };
    // Ahead and one by one in the order of time, each a short transaction: nobody waits for a month that is being filled. On
    // the same connection: one that holds one and waits for another would wait for all that do the same.
    await ensurePartitions(sql, extent.months);
    await sql`begin`;
    try {
      const result = await storeStaged(sql, connection, owner, { ...o, rows });
      o.signal?.throwIfAborted();
      await sql`commit`;
      return result;
    } catch (error) {
      await sql`rollback`.catch(() => undefined);
      throw error;
    }
  } finally {
    await staging.dropStaging(sql).catch(() => undefined);
    sql.release();
  }
}

function checkExtent({ first, last, largest }: Awaited<ReturnType<typeof staging.stagedExtent>>): void {
  const years = (last.getTime() - first.getTime()) / YEAR;
  if (years > MOST_YEARS) throw new Rejected({ reason: 'span', years, most: MOST_YEARS });
  if (largest.strikes <= MOST_STRIKES) return;
  const remedy = `${largest.strikes} strikes of one expiry at one instant, at most ${MOST_STRIKES}; leave some out or split the file`;
  const problem: RowProblem = { line: largest.line, field: 'strike', value: largest.symbol, code: 'bad-cell', remedy };
  throw new Rejected({ reason: 'bad-rows', problems: [problem], isTruncated: false });
}

function duplicateProblems(duplicates: { line: number; firstLine: number; strike: number }[]): ImportFailure {
  const problems = duplicates.map((d): RowProblem => ({
    line: d.line,
    field: 'row',
    value: String(d.strike),
    code: 'duplicate',
    remedy: `the same contract and instant as line ${d.firstLine}; keep one of them`,
  }));
  return { reason: 'bad-rows', problems, isTruncated: duplicates.length === MAX_PROBLEMS };
}

async function storeStaged(
  sql: Sql,
  connection: Connection,
  owner: string,
  { file, options, plan, rows, signal }: Undertaking & { rows: number },
): Promise<ImportResult> {
  const { fileName, ...remembered } = { ...options, format: plan.read.format, mapping: plan.read.mapping };
  await staging.lockImport(sql, { owner, sha256: file.sha256 });
  await staging.adoptStoredSymbols(sql);
  const earlier = await staging.earlierImport(sql, { owner, sha256: file.sha256, options: remembered });
  if (earlier) {
    const staged = await staging.stagedInstants(sql);
    return summary('unchanged', earlier.id, rows, earlier.slices, staged, options.zone);
  }
  await staging.insertNewUnderlyings(sql, options.terms, options.zone);
  const written = await staging.gatherSlices(sql);
  const instants = await staging.stagedInstants(sql);
  const database = onTransaction(sql as never, connection.sql);
  const underlyings = new Map((await listUnderlyings(database)).map((u) => [u.id, u]));
  const inPool = (input: Parameters<typeof compute<'measures'>>[1]) =>
    compute('measures', input, { lane: 'import', signal });
  for (const [i, { id, instant }] of instants.entries()) {
    signal?.throwIfAborted();
    file.progress = { stage: 'deriving', share: i / instants.length, rows };
    const underlying = underlyings.get(id);
    if (underlying) await deriveMeasures(database, underlying, new Date(instant), inPool);
  }
  const id = await staging.recordImport(sql, {
    owner,
    fileName,
    sha256: file.sha256,
    options: remembered,
    headers: headerKey(plan.headers),
    rows,
    slices: written.total,
  });
  return {
    ...summary('imported', id, rows, written.total, instants, options.zone),
    newSlices: written.inserted,
    changedSlices: written.changed,
  };
}

/** Key under which the mapping of files with these headers is remembered. */
export function headerKey(headers: string[]): string {
  return JSON.stringify(headers);
}

function summary(
  status: ImportResult['status'],
  id: string,
  rows: number,
  slices: number,
  instants: { symbol: string; instant: number }[],
  zone: string,
): ImportResult {
  // Latest instant of each symbol, which the interface opens next.
  const bySymbol = new Map<string, string>();
  for (const { symbol, instant } of instants) {
    if (!bySymbol.has(symbol)) bySymbol.set(symbol, isoInZone(instant, zone));
  }
  const underlyings = [...bySymbol].map(([symbol, asOf]) => ({ symbol, asOf }));
  return { status, id, rows, slices, newSlices: 0, changedSlices: 0, underlyings };
}

export interface ReadingPlan {
  format: TableFormat;
  headers: string[];
  read: ReadChainOptions;
}

/** First bytes of a file, unfolded when it is gzip, and whether they are all of it. */
export async function sampleOf(file: SpooledFile): Promise<{ sample: Buffer; isWhole: boolean }> {
  const handle = await open(file.path);
  try {
    const buffer = Buffer.alloc(Math.min(SAMPLE_BYTES, file.bytes));
    await handle.read(buffer, 0, buffer.length, 0);
    if (!isGzip(buffer)) return { sample: buffer, isWhole: file.bytes <= SAMPLE_BYTES };
    // What is cut off is no error here.
    const all = gunzipSync(buffer, { finishFlush: constants.Z_SYNC_FLUSH, maxOutputLength: 1 << 26 });
    return { sample: all.subarray(0, SAMPLE_BYTES), isWhole: file.bytes <= SAMPLE_BYTES && all.length <= SAMPLE_BYTES };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code?.startsWith('Z_')) throw new Rejected({ reason: 'binary' });
    throw error;
  } finally {
    await handle.close();
  }
}

/** Detected format and columns, corrected by what the request says. */
async function planReading(file: SpooledFile, options: ImportOptions): Promise<ReadingPlan> {
  const { sample, isWhole } = await sampleOf(file);
  const { typed, zone, sessionClose } = options;
  const kind = sample.length === 0 ? 'csv' : tableFormatOf(sample);
  if (kind !== 'csv') {
    // Its columns need no recognising.
    const format: ChainFormat = {
      encoding: 'utf-8',
      delimiter: ',',
      decimal: '.',
      dateOrder: 'iso',
      ...options.format,
    };
    return {
      format: kind,
      headers: [kind],
      read: { format, mapping: options.mapping ?? {}, typed, zone, sessionClose },
    };
  }
  const detected = detectFormat(sample, { isWhole });
  if (!detected.ok) throw new Rejected({ reason: detected.reason });
  const format: ChainFormat = { ...detected.format, ...options.format };
  const mapping: ColumnMapping = options.mapping ?? mapColumns(detected.headers);
  const columns = missingColumns(mapping, options.typed);
  if (columns.length > 0) throw new Rejected({ reason: 'missing-columns', columns });
  return { format: 'csv', headers: detected.headers, read: { format, mapping, typed, zone, sessionClose } };
}

/** What a reader's end means for the file, when it is no end of rows. */
export function readFailure(outcome: Exclude<ReadOutcome, { type: 'chain' | 'table' }>): ImportFailure {
  switch (outcome.type) {
    case 'limit':
      return { reason: 'limit', limit: outcome.limit, most: outcome.most, found: outcome.found };
    case 'memory':
      return { reason: 'memory', most: outcome.most };
    case 'malformed':
      return { reason: 'malformed' };
    case 'failed':
      throw new ReaderFailed(`the process that reads files ended: ${outcome.detail}`);
  }
}

async function stageRows(sql: Sql, { file, plan, signal, limits = FILE_LIMITS }: Undertaking): Promise<number> {
  const reading = readApart(
    {
      kind: 'chain',
      path: file.path,
      limits,
      format: plan.format,
      read: plan.read,
      mostProblems: MAX_PROBLEMS,
      isPreview: false,
    },
    { signal, onprogress: (share, count) => (file.progress = { stage: 'reading', share, rows: count }) },
  );
  const copy = await staging.copyStaged(sql);
  try {
    const end = await copyRead(reading, copy, signal);
    if (end.type === 'table') throw new ReaderFailed('a table came where a chain was read');
    if (end.type !== 'chain') throw new Rejected(readFailure(end));
    const { problems, isTruncated } = end;
    if (problems.length > 0) throw new Rejected({ reason: 'bad-rows', problems, isTruncated });
    await copy.end();
    return end.rows;
  } catch (error) {
    reading.rows.destroy();
    copy.abort(error instanceof Error ? error : new Error('interrupted'));
    throw error;
  }
}
