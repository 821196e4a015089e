import { detectDateOrder, parseInstant } from '../cell-text/index.ts';
import type { DateOrder, DecimalMark } from '../chain-format/index.ts';
import { FILE_LIMITS, type FileLimits, unfolded } from '../file-limits/index.ts';
import { type Cell, columnsOf, type TableColumn, type TableKind, type TableRecord } from '../table-format/index.ts';
import { isoInZone } from '../zone/index.ts';
import { detectText, firstRows, headerIndex } from './detect-text.ts';
import { fileFormatOf, type FileFormat, fileInMemory, type FileSource, Unreadable } from './file-source.ts';
import { type GridRow, gridRows } from './grid-rows.ts';
import { rawRows } from './raw-rows.ts';
import { type CellMarks, readCell, textOf } from './read-cell.ts';

export interface TableProblem {
  /** Row of the table counted from 1, without the header; 0 for the file as a whole */
  row: number;
  column: string;
  value: string;
  remedy: string;
}

export type TableResult = { ok: true; records: TableRecord[] } | { ok: false; problems: TableProblem[] };

export interface ReadTableOptions {
  /** Values for columns that the file lacks */
  typed?: TableRecord;
  /** Of instants without an offset, and of Parquet's instants */
  zone: string;
  limits?: FileLimits;
}

/** Problems listed before reading stops: more tell nothing new. */
const MOST_PROBLEMS = 200;

/** Letters and digits of a header. */
const squash = (text: string) => text.toLowerCase().replace(/[^a-z0-9]/g, '');
const wordsOf = (column: TableColumn) => [squash(column.name), ...(column.aliases ?? [])];

/** How many columns of a kind of table the cells of a line name. */
export function tableScore(kind: TableKind, cells: readonly string[]): number {
  const squashed = new Set(cells.map(squash));
  return columnsOf(kind).filter((column) => wordsOf(column).some((word) => squashed.has(word))).length;
}

/** Whether the cells of a line name all columns that a kind of table must have, but for whose rows they are. */
export function namesTable(kind: TableKind, cells: readonly string[]): boolean {
  const squashed = new Set(cells.map(squash));
  const isOwner = (column: TableColumn) => column.name === 'underlying' || column.name === 'currency';
  return columnsOf(kind)
    .filter((column) => !column.isOptional && column.from === undefined && !isOwner(column))
    .every((column) => wordsOf(column).some((word) => squashed.has(word)));
}

/**
 * Reads a table of a known kind row by row from CSV (gzip or not), a workbook, JSON or Parquet; columns by name, others are passed
 * over. Texts may have lines above the header, and dates and numbers as programs write them.
 * @throws LimitExceeded when the file holds more than it may
 */
export async function* readTableRows(
  kind: TableKind,
  source: FileSource,
  format: FileFormat,
  o: ReadTableOptions,
): AsyncGenerator<{ row: number; record: TableRecord } | { problems: TableProblem[] }> {
  const columns = columnsOf(kind);
  const limits = o.limits ?? FILE_LIMITS;
  let reader: RecordReader | undefined;
  try {
    const rows =
      format === 'csv' || format === 'workbook'
        ? textRows(kind, source, format, limits)
        : rawRows(source, format, limits);
    for await (const read of rows) {
      reader ??= new RecordReader(kind, read.record, 'marks' in read ? (read.marks as CellMarks) : undefined, o);
      const missing = read.row === 1 ? reader.missing() : [];
      if (missing.length > 0) {
        yield { problems: missing };
        return;
      }
      yield reader.read(read.row, read.record);
    }
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    yield { problems: [{ row: error.row, column: '', value: error.value, remedy: error.remedy }] };
    return;
  }
  if (!reader) yield { problems: [whole('', `the file has no rows of ${columns.map((c) => c.name).join(', ')}`)] };
}

class RecordReader {
  readonly #columns: readonly TableColumn[];
  readonly #headers: Map<string, string | undefined>;
  readonly #marks: CellMarks | undefined;
  readonly #o: ReadTableOptions;

  constructor(kind: TableKind, first: Record<string, unknown>, marks: CellMarks | undefined, o: ReadTableOptions) {
    this.#columns = columnsOf(kind);
    const names = Object.keys(first);
    const taken = new Set<string>();
    this.#headers = new Map();
    // A column's own name is surer than what else may mean it.
    for (const rank of ['name', 'aliases'] as const) {
      for (const column of this.#columns) {
        if (this.#headers.get(column.name) !== undefined) continue;
        const words = rank === 'name' ? [squash(column.name)] : (column.aliases ?? []);
        const header = words
          .map((word) => names.find((name) => squash(name) === word && !taken.has(name)))
          .find((name) => name !== undefined);
        this.#headers.set(column.name, header);
        if (header !== undefined) taken.add(header);
      }
    }
    this.#marks = marks;
    this.#o = o;
  }

  missing(): TableProblem[] {
    return this.#columns
      .filter((c) => !c.isOptional && c.from === undefined && this.#headers.get(c.name) === undefined)
      .filter((c) => this.#o.typed?.[c.name] === undefined)
      .map((c) => whole(c.name, `add a column ${[c.name, ...(c.aliases ?? [])].join(' or ')}`));
  }

  read(
    row: number,
    record: Record<string, unknown>,
  ): { row: number; record: TableRecord } | { problems: TableProblem[] } {
    const read: TableRecord = {};
    const problems: TableProblem[] = [];
    for (const column of this.#columns) {
      const header = this.#headers.get(column.name);
      const given = header === undefined ? (this.#o.typed?.[column.name] ?? null) : record[header];
      if (header === undefined && column.from !== undefined && (given === null || given === undefined)) {
        const from = read[column.from] ?? null;
        read[column.name] = column.type === 'instant' ? startOf(from, this.#o.zone) : from;
        continue;
      }
      const cell = readCell(given, column, { zone: this.#o.zone, marks: this.#marks });
      if (cell.ok) read[column.name] = cell.value;
      else problems.push({ row, column: column.name, value: textOf(given).slice(0, 80), remedy: cell.remedy });
    }
    if (problems.length === 0) problems.push(...wholeRow(row, read));
    return problems.length > 0 ? { problems } : { row, record: read };
  }
}

/** First instant of a civil date in a zone. */
function startOf(date: Cell, zone: string): string | null {
  const at = parseInstant(String(date), { order: 'iso', zone, defaultTime: '00:00' });
  return at === undefined ? null : isoInZone(at, zone);
}

/** Rows of a text or a workbook under the header that is found in it, with the marks its cells are written by. */
async function* textRows(
  kind: TableKind,
  source: FileSource,
  format: 'csv' | 'workbook',
  limits: FileLimits,
): AsyncGenerator<{ row: number; record: Record<string, unknown>; marks: CellMarks }> {
  const score = (cells: readonly string[]) => tableScore(kind, cells);
  const text = format === 'csv' ? await sampleOf(source, limits, score) : undefined;
  const marks = { encoding: text?.encoding ?? 'utf-8', delimiter: text?.delimiter ?? ',' } as const;
  const top = text?.rows ?? (await firstRows(source, format, marks));
  const at = headerIndex(top, score) ?? 0;
  const header = top[at];
  if (!header) return;
  const names = header.cells.map((name) => name.trim());
  const cellMarks = marksOf(kind, names, top.slice(at + 1));
  let row = 0;
  for await (const { line, cells } of gridRows(source, format, { format: marks, limits })) {
    if (line <= header.line) continue;
    row++;
    yield {
      row,
      record: Object.fromEntries(names.map((name, i) => [name, (cells[i] ?? '').trim()])),
      marks: cellMarks,
    };
  }
}

async function sampleOf(source: FileSource, limits: FileLimits, score: (cells: readonly string[]) => number) {
  const pieces: Uint8Array[] = [];
  let size = 0;
  for await (const piece of unfolded(source.bytes(), limits)) {
    pieces.push(piece);
    size += piece.length;
    if (size > SAMPLE_BYTES) break;
  }
  const sample = Buffer.concat(pieces).subarray(0, SAMPLE_BYTES);
  const text = await detectText(sample, { isWhole: size <= SAMPLE_BYTES, score });
  if (text.ok) return text;
  if (text.reason === 'empty') return undefined;
  throw new Unreadable(
    text.reason === 'binary'
      ? 'not readable as CSV (it holds control characters); send CSV, JSON, a workbook (xlsx) or Parquet'
      : 'not readable as a table: a header and cells divided by comma, semicolon, tab or bar are needed',
  );
}

const SAMPLE_BYTES = 1 << 16;
/** A rate above 30 % is rarer than a column in percent. */
const HIGHEST_SHARE = 0.3;

function marksOf(kind: TableKind, names: readonly string[], rows: readonly GridRow[]): CellMarks {
  const columns = columnsOf(kind);
  const placed = columns.map((column) => ({ column, at: names.findIndex((n) => wordsOf(column).includes(squash(n))) }));
  const cellsOf = (test: (column: TableColumn) => boolean) =>
    placed.flatMap(({ column, at }) => (at >= 0 && test(column) ? rows.map((row) => row.cells[at] ?? '') : []));
  const dateOrder: DateOrder = detectDateOrder(cellsOf((c) => c.type === 'date' || c.type === 'instant')).order;
  const decimal: DecimalMark = decimalOf(cellsOf((c) => c.type === 'number'));
  // What the application itself wrote is in decimals whatever its values.
  const isOwn = columns.every((column) => names.includes(column.name));
  const shares = cellsOf((c) => c.isShare === true);
  const shareNames = placed.flatMap(({ column, at }) => (column.isShare && at >= 0 ? [names[at]] : []));
  const values = shares.map((cell) => Math.abs(Number(cell.replace(',', '.')))).sort((a, b) => a - b);
  const isPercent =
    !isOwn && (shareNames.some((n) => /%|percent|pct/i.test(n)) || values[values.length >> 1] > HIGHEST_SHARE);
  return { decimal, dateOrder, isPercent };
}

function decimalOf(cells: readonly string[]): DecimalMark {
  for (const cell of cells) {
    // The last mark of a number is its decimal mark, unless exactly three digits follow (then it may group).
    const match = /([.,])(\d+)\D*$/.exec(cell);
    if (match && match[2].length !== 3) return match[1] as DecimalMark;
  }
  return '.';
}

/** Reads a file in memory at once: every record, or what is wrong, row by row, and how to mend it. */
export async function readTable(kind: TableKind, bytes: Uint8Array, o: ReadTableOptions): Promise<TableResult> {
  const problems: TableProblem[] = [];
  const records: TableRecord[] = [];
  for await (const row of readTableRows(kind, fileInMemory(bytes), fileFormatOf(bytes), o)) {
    if ('problems' in row) problems.push(...row.problems);
    else records.push(row.record);
    if (problems.length >= MOST_PROBLEMS) break;
  }
  return problems.length > 0 ? { ok: false, problems } : { ok: true, records };
}

/** What no cell says alone. */
function wholeRow(row: number, record: TableRecord): TableProblem[] {
  if (!('high' in record) || Number(record.high) >= Number(record.low)) return [];
  return [{ row, column: 'high', value: String(record.high), remedy: `must not lie below low (${record.low})` }];
}

function whole(column: string, remedy: string): TableProblem {
  return { row: 0, column, value: '', remedy };
}
