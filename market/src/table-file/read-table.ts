import { FILE_LIMITS, type FileLimits } from '../file-limits/index.ts';
import {
  columnsOf,
  type TableColumn,
  type TableFormat,
  type TableKind,
  type TableRecord,
} from '../table-format/index.ts';
import { fileInMemory, type FileSource, rawRows, tableFormatOf, Unreadable } from './raw-rows.ts';
import { readCell, textOf } from './read-cell.ts';

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

/**
 * Reads a table of a known kind from CSV (gzip or not), JSON lines or Parquet row by row; columns by name, others are passed
 * over.
 * @throws LimitExceeded when the file holds more than it may
 */
export async function* readTableRows(
  kind: TableKind,
  source: FileSource,
  format: TableFormat,
  o: ReadTableOptions,
): AsyncGenerator<{ row: number; record: TableRecord } | { problems: TableProblem[] }> {
  const columns = columnsOf(kind);
  let headers: Map<string, string | undefined> | undefined;
  try {
    for await (const { row, record } of rawRows(source, format, o.limits ?? FILE_LIMITS)) {
      headers ??= new Map(columns.map((c) => [c.name, headerOf(c, record)]));
      const missing = row === 1 ? missingColumns(columns, headers, o.typed) : [];
      if (missing.length > 0) {
        yield { problems: missing };
        return;
      }
      const read: TableRecord = {};
      const problems: TableProblem[] = [];
      for (const column of columns) {
        const header = headers.get(column.name);
        const given = header === undefined ? (o.typed?.[column.name] ?? null) : record[header];
        const cell = readCell(given, column, { zone: o.zone, isText: format === 'csv' });
        if (cell.ok) read[column.name] = cell.value;
        else problems.push({ row, column: column.name, value: textOf(given).slice(0, 80), remedy: cell.remedy });
      }
      if (problems.length === 0) problems.push(...wholeRow(kind, row, read));
      yield problems.length > 0 ? { problems } : { row, record: read };
    }
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    yield { problems: [{ row: error.row, column: '', value: error.value, remedy: error.remedy }] };
    return;
  }
  if (!headers) yield { problems: [whole('', 'the file has no rows')] };
}

/** The same of a file in memory, at once: every record, or what is wrong, row by row, and how to mend it. */
export async function readTable(kind: TableKind, bytes: Uint8Array, o: ReadTableOptions): Promise<TableResult> {
  const problems: TableProblem[] = [];
  const records: TableRecord[] = [];
  for await (const row of readTableRows(kind, fileInMemory(bytes), tableFormatOf(bytes), o)) {
    if ('problems' in row) problems.push(...row.problems);
    else records.push(row.record);
    if (problems.length >= MOST_PROBLEMS) break;
  }
  return problems.length > 0 ? { ok: false, problems } : { ok: true, records };
}

function missingColumns(
  columns: readonly TableColumn[],
  headers: Map<string, string | undefined>,
  typed: TableRecord | undefined,
): TableProblem[] {
  return columns
    .filter((c) => !c.isOptional && headers.get(c.name) === undefined && typed?.[c.name] === undefined)
    .map((c) => whole(c.name, `add a column ${[c.name, ...(c.aliases ?? [])].join(' or ')}`));
}

/** What no cell says alone. */
function wholeRow(kind: TableKind, row: number, record: TableRecord): TableProblem[] {
  if (kind !== 'bars' || Number(record.high) >= Number(record.low)) return [];
  return [{ row, column: 'high', value: String(record.high), remedy: `must not lie below low (${record.low})` }];
}

function headerOf(column: TableColumn, record: Record<string, unknown>): string | undefined {
  return [column.name, ...(column.aliases ?? [])].find((name) => name in record);
}

function whole(column: string, remedy: string): TableProblem {
  return { row: 0, column, value: '', remedy };
}
