import { parse as parseCsv } from 'csv-parse';
import { type AsyncBuffer, parquetMetadataAsync, parquetReadObjects } from 'hyparquet';
import { pipeline, Readable } from 'node:stream';
import { checkLimit, type FileLimits, unfolded } from '../file-limits/index.ts';
import type { TableFormat } from '../table-format/index.ts';

/** A file as it lies somewhere: read from the front, or anywhere. */
export interface FileSource {
  bytes(): AsyncIterable<Uint8Array>;
  /** For formats with their index at the end */
  parts: AsyncBuffer;
}

/** A file that is in memory. */
export function fileInMemory(bytes: Uint8Array): FileSource {
  // A copy, because a Node buffer may be a part of a larger one.
  const whole = new Uint8Array(bytes).buffer;
  return {
    async *bytes() {
      yield await Promise.resolve(bytes);
    },
    parts: { byteLength: whole.byteLength, slice: (start, end) => whole.slice(start, end) },
  };
}

/** Thrown for a file that is not in the format it begins as. `row` counts from 1; 0 for the file as a whole. */
export class Unreadable extends Error {
  readonly row: number;
  readonly value: string;
  readonly remedy: string;
  constructor(remedy: string, o: { row?: number; value?: string } = {}) {
    super(remedy);
    this.name = 'Unreadable';
    this.remedy = remedy;
    this.row = o.row ?? 0;
    this.value = o.value ?? '';
  }
}

/** Format of a file by its first bytes: Parquet's mark, an opening brace, or else CSV. */
export function tableFormatOf(start: Uint8Array): TableFormat {
  const text = new TextDecoder('latin1').decode(start.subarray(0, 64)).replace(/^\u00ef\u00bb\u00bf/, '');
  if (text.startsWith('PAR1')) return 'parquet';
  return text.trimStart().startsWith('{') ? 'jsonl' : 'csv';
}

export interface RawRow {
  /** Row of the table counted from 1, without the header */
  row: number;
  record: Record<string, unknown>;
}

/**
 * Rows of a table as they stand in a file, one by one.
 * @throws LimitExceeded; Unreadable
 */
export async function* rawRows(source: FileSource, format: TableFormat, limits: FileLimits): AsyncGenerator<RawRow> {
  let row = 0;
  const records =
    format === 'parquet'
      ? parquetRecords(source.parts, limits)
      : format === 'jsonl'
        ? jsonRecords(lines(source, limits))
        : csvRecords(source, limits);
  for await (const record of records) {
    row++;
    checkLimit(limits, 'rows', row);
    yield { row, record };
  }
}

async function* parquetRecords(file: AsyncBuffer, limits: FileLimits): AsyncGenerator<Record<string, unknown>> {
  try {
    // The index says how much there is before anything of it is unfolded.
    const metadata = await parquetMetadataAsync(file);
    const columns = metadata.schema.length - 1;
    checkLimit(limits, 'columns', columns);
    checkLimit(limits, 'rows', Number(metadata.num_rows));
    checkLimit(limits, 'cells', Number(metadata.num_rows) * columns);
    const inflated = metadata.row_groups.map((g) => Number(g.total_byte_size));
    checkLimit(
      limits,
      'bytes',
      inflated.reduce((sum, size) => sum + size, 0),
    );
    let rowStart = 0;
    for (const group of metadata.row_groups) {
      const rowEnd = rowStart + Number(group.num_rows);
      yield* await parquetReadObjects({ file, metadata, rowStart, rowEnd });
      rowStart = rowEnd;
    }
  } catch (error) {
    throw notReadable('Parquet', error);
  }
}

/** One row of rubbish must not grow without bound. */
const LONGEST_LINE = 1 << 20;

async function* lines(source: FileSource, limits: FileLimits): AsyncGenerator<string> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let rest = '';
  for await (const bytes of unfolded(source.bytes(), limits)) {
    const parts = (rest + decoder.decode(bytes, { stream: true })).split('\n');
    rest = parts.pop() ?? '';
    if (rest.length > LONGEST_LINE)
      throw new Unreadable('a line is longer than 1 MB; one JSON object a line is needed');
    yield* parts;
  }
  rest += decoder.decode();
  if (rest !== '') yield rest;
}

async function* jsonRecords(texts: AsyncGenerator<string>): AsyncGenerator<Record<string, unknown>> {
  let row = 0;
  try {
    for await (const line of texts) {
      row++;
      if (line.trim() === '') continue;
      yield jsonRecord(line, row);
    }
  } catch (error) {
    throw notReadable('JSON lines', error);
  }
}

function jsonRecord(line: string, row: number): Record<string, unknown> {
  const remedy = 'one JSON object a line, its members plain values';
  try {
    const value: unknown = JSON.parse(line);
    if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new TypeError('not an object');
    return value as Record<string, unknown>;
  } catch {
    throw new Unreadable(remedy, { row, value: line.slice(0, 80) });
  }
}

async function* csvRecords(source: FileSource, limits: FileLimits): AsyncGenerator<Record<string, unknown>> {
  const bytes = unfolded(source.bytes(), limits);
  const first = await bytes.next();
  if (first.done) return;
  const start = new TextDecoder().decode(first.value.subarray(0, 4096)).split('\n', 1)[0];
  const decoder = new TextDecoder('utf-8', { fatal: true });
  async function* decoded(): AsyncGenerator<string> {
    yield decoder.decode(first.value as Uint8Array, { stream: true });
    for await (const piece of bytes) yield decoder.decode(piece, { stream: true });
    yield decoder.decode();
  }
  const parser = pipeline(
    Readable.from(decoded(), { objectMode: false, encoding: 'utf8' }),
    parseCsv({
      columns: (names: string[]) => {
        checkLimit(limits, 'columns', names.length);
        return names.map((name) => name.trim().toLowerCase());
      },
      bom: true,
      delimiter: start.includes(';') ? ';' : ',',
      skip_empty_lines: true,
      trim: true,
      max_record_size: 1 << 16,
    }),
    () => undefined,
  );
  try {
    yield* parser as AsyncIterable<Record<string, unknown>>;
  } catch (error) {
    throw notReadable('CSV', error);
  }
}

/** The error as it is when it says what to do already, else as one that does. */
function notReadable(format: string, error: unknown): unknown {
  if (error instanceof Unreadable || (error instanceof Error && error.name === 'LimitExceeded')) return error;
  const reason = error instanceof Error ? error.message.split('\n', 1)[0] : String(error);
  return new Unreadable(`not readable as ${format} (${reason.slice(0, 200)}); send CSV, JSON lines or Parquet`);
}
