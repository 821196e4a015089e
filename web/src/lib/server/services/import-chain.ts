import { createHash } from 'node:crypto';
import {
  detectFormat,
  isProblem,
  missingColumns,
  readChain,
  type ReadChainOptions,
  type RowProblem,
} from '@umwelt/market/chain-file';
import { type ChainFormat, type ColumnMapping, mapColumns } from '@umwelt/market/chain-format';
import { isoInZone } from '@umwelt/market/zone';
import type { ImportOptions, ImportResult } from '../../schema/chain-import.ts';
import { type Connection, type Database, onTransaction } from '../database/connect.ts';
import { recordRefusal } from '../repositories/imports.ts';
import { listUnderlyings } from '../repositories/underlyings.ts';
import * as staging from '../repositories/chain-staging.ts';
import { asCsv } from './chain-as-csv.ts';
import { deriveMeasures } from './measure-history.ts';
import { clearPictures } from './picture.ts';

export const MAX_IMPORT_BYTES = 1 << 29;
/** Bad rows listed before reading stops: more tell nothing new. */
export const MAX_PROBLEMS = 1000;
const SAMPLE_BYTES = 1 << 16;

export type ImportFailure =
  | { reason: 'empty' | 'binary' | 'no-table' | 'no-rows' | 'malformed' }
  | { reason: 'too-large'; limit: number }
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

/** Ends the transaction of a file that is stored already. */
class Unchanged extends Error {
  readonly result: ImportResult;
  constructor(result: ImportResult) {
    super('unchanged');
    this.result = result;
  }
}

/**
 * Imports a chain file in one transaction, all or nothing, row by row: memory does not grow with the file.
 * @param source bytes of the file; an error from it (a cancelled upload) rolls back and is thrown
 */
export async function importChain(
  connection: Connection,
  owner: string,
  source: AsyncIterable<Uint8Array>,
  options: ImportOptions,
): Promise<{ ok: true; result: ImportResult } | { ok: false; failure: ImportFailure }> {
  try {
    const table = await asCsv(source);
    if (!table.ok) throw new Rejected({ reason: 'bad-rows', problems: table.problems, isTruncated: false });
    const result = await connection.sql.begin((sql) =>
      runImport(sql, onTransaction(sql, connection.sql), owner, table.csv, options),
    );
    clearPictures();
    return { ok: true, result };
  } catch (error) {
    if (error instanceof Rejected) {
      await keepRefusal(connection.database, owner, options.fileName, error.failure);
      return { ok: false, failure: error.failure };
    }
    if (error instanceof Unchanged) return { ok: true, result: error.result };
    throw error;
  }
}

/** Most of a refusal's rows that are kept for looking at later. */
const KEPT_PROBLEMS = 200;

async function keepRefusal(database: Database, owner: string, fileName: string, failure: ImportFailure): Promise<void> {
  const rows = failure.reason === 'bad-rows' ? failure.problems : [];
  const problems = rows
    .slice(0, KEPT_PROBLEMS)
    .map(({ line, field, value, remedy }) => ({ row: line, column: field, value, remedy }));
  const count = `${rows.length} ${rows.length === 1 ? 'row is' : 'rows are'}`;
  const message = rows.length > 0 ? `${count} wrong; nothing was stored` : failure.reason;
  await recordRefusal(database, { owner, fileName, table: 'chains', refusal: { message, problems } });
}

type Sql = Parameters<typeof staging.createStaging>[0];

async function runImport(
  sql: Sql,
  database: Database,
  owner: string,
  source: AsyncIterable<Uint8Array>,
  options: ImportOptions,
): Promise<ImportResult> {
  const hash = createHash('sha256');
  const iterator = source[Symbol.asyncIterator]();
  const { sample, isWhole } = await readSample(iterator);
  const plan = planReading(sample, isWhole, options);

  await staging.createStaging(sql);
  const rows = await stageRows(sql, replay(sample, iterator, hash), plan.read);
  if (rows === 0) throw new Rejected({ reason: 'no-rows' });
  const duplicates = await staging.duplicateRows(sql, MAX_PROBLEMS);
  if (duplicates.length > 0) {
    const problems = duplicates.map((d): RowProblem => ({
      line: d.line,
      field: 'row',
      value: String(d.strike),
      code: 'duplicate',
      remedy: `the same contract and instant as line ${d.firstLine}; keep one of them`,
    }));
    throw new Rejected({ reason: 'bad-rows', problems, isTruncated: duplicates.length === MAX_PROBLEMS });
  }

  const sha256 = hash.digest('hex');
  const { fileName, ...remembered } = { ...options, format: plan.read.format, mapping: plan.read.mapping };
  const earlier = await staging.earlierImport(sql, { owner, sha256, options: remembered });
  const staged = await staging.stagedInstants(sql);
  if (earlier) throw new Unchanged(summary('unchanged', earlier.id, rows, earlier.slices, staged, options.zone));

  await staging.insertNewUnderlyings(sql, options.terms, options.zone);
  const written = await staging.gatherSlices(sql);
  const instants = await staging.stagedInstants(sql);
  const underlyings = new Map((await listUnderlyings(database)).map((u) => [u.id, u]));
  for (const { id, instant } of instants) {
    const underlying = underlyings.get(id);
    if (underlying) await deriveMeasures(database, underlying, new Date(instant));
  }
  const id = await staging.recordImport(sql, {
    owner,
    fileName,
    sha256,
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

async function readSample(iterator: AsyncIterator<Uint8Array>) {
  const chunks: Uint8Array[] = [];
  let size = 0;
  while (size < SAMPLE_BYTES) {
    const next = await iterator.next();
    if (next.done) return { sample: Buffer.concat(chunks), isWhole: true };
    chunks.push(next.value);
    size += next.value.length;
  }
  return { sample: Buffer.concat(chunks), isWhole: false };
}

/** Detected format and columns, corrected by what the request says. */
function planReading(sample: Buffer, isWhole: boolean, options: ImportOptions) {
  const detected = detectFormat(sample.subarray(0, SAMPLE_BYTES), {
    isWhole: isWhole && sample.length <= SAMPLE_BYTES,
  });
  if (!detected.ok) throw new Rejected({ reason: detected.reason });
  const format: ChainFormat = { ...detected.format, ...options.format };
  const mapping: ColumnMapping = options.mapping ?? mapColumns(detected.headers);
  const columns = missingColumns(mapping, options.typed);
  if (columns.length > 0) throw new Rejected({ reason: 'missing-columns', columns });
  const { typed, zone, sessionClose } = options;
  const read: ReadChainOptions = { format, mapping, typed, zone, sessionClose };
  return { headers: detected.headers, read };
}

async function* replay(sample: Buffer, rest: AsyncIterator<Uint8Array>, hash: ReturnType<typeof createHash>) {
  hash.update(sample);
  yield sample as Uint8Array;
  let size = sample.length;
  for (let next = await rest.next(); !next.done; next = await rest.next()) {
    size += next.value.length;
    if (size > MAX_IMPORT_BYTES) throw new Rejected({ reason: 'too-large', limit: MAX_IMPORT_BYTES });
    hash.update(next.value);
    yield next.value;
  }
}

async function stageRows(sql: Sql, bytes: AsyncIterable<Uint8Array>, read: ReadChainOptions): Promise<number> {
  const sink = await staging.openStaging(sql);
  const problems: RowProblem[] = [];
  let rows = 0;
  try {
    for await (const row of readChain(bytes, read)) {
      if (isProblem(row)) {
        problems.push(row);
        if (problems.length >= MAX_PROBLEMS) break;
      } else {
        rows++;
        // After the first bad row nothing will be stored, so only the rest of the problems is looked for.
        if (problems.length === 0) await sink.write(row);
      }
    }
    await sink.end();
  } catch (error) {
    sink.abort(error instanceof Error ? error : new Error('interrupted'));
    if (error instanceof Error && error.name === 'CsvError') throw new Rejected({ reason: 'malformed' });
    throw error;
  }
  if (problems.length > 0) {
    throw new Rejected({ reason: 'bad-rows', problems, isTruncated: problems.length >= MAX_PROBLEMS });
  }
  return rows;
}
