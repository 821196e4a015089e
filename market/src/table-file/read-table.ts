import { parse } from 'csv-parse/sync';
import { parquetReadObjects } from 'hyparquet';
import { isoInZone } from '../zone/index.ts';
import {
  type Cell,
  columnsOf,
  type TableColumn,
  type TableFormat,
  type TableKind,
  type TableRecord,
} from '../table-format/index.ts';

export interface TableProblem {
  /** Row of the table counted from 1, without the header; 0 for the file as a whole */
  row: number;
  column: string;
  value: string;
  remedy: string;
}

export type TableResult = { ok: true; records: TableRecord[] } | { ok: false; problems: TableProblem[] };

/** Problems listed before reading stops: more tell nothing new. */
const MOST_PROBLEMS = 200;

/** Format of a file by its first bytes: Parquet's mark, an opening brace, or else CSV. */
export function tableFormatOf(bytes: Uint8Array): TableFormat {
  const start = new TextDecoder('latin1').decode(bytes.subarray(0, 64)).replace(/^\u00ef\u00bb\u00bf/, '');
  if (start.startsWith('PAR1')) return 'parquet';
  return start.trimStart().startsWith('{') ? 'jsonl' : 'csv';
}

/**
 * Reads a table of a known kind from CSV, JSON lines or Parquet; columns by name, others are passed over.
 * @param o.typed values for columns that the file lacks
 * @param o.zone of instants without an offset and of Parquet's instants
 * @returns every record, or what is wrong, row by row, and how to mend it
 */
export async function readTable(
  kind: TableKind,
  bytes: Uint8Array,
  o: { typed?: TableRecord; zone: string },
): Promise<TableResult> {
  const raw = await rawRecords(bytes);
  if (!raw.ok) return raw;
  const columns = columnsOf(kind);
  const headers = new Map(columns.map((c) => [c.name, headerOf(c, raw.records[0] ?? {})]));
  const missing = columns.filter(
    (c) => !c.isOptional && headers.get(c.name) === undefined && o.typed?.[c.name] === undefined,
  );
  if (raw.records.length === 0) return { ok: false, problems: [whole('', 'the file has no rows')] };
  if (missing.length > 0) {
    return {
      ok: false,
      problems: missing.map((c) => whole(c.name, `add a column ${[c.name, ...(c.aliases ?? [])].join(' or ')}`)),
    };
  }
  const problems: TableProblem[] = [];
  const records: TableRecord[] = [];
  for (const [i, record] of raw.records.entries()) {
    const read: TableRecord = {};
    for (const column of columns) {
      const header = headers.get(column.name);
      const given = header === undefined ? (o.typed?.[column.name] ?? null) : record[header];
      const cell = readCell(given, column, o.zone);
      if (cell.ok) read[column.name] = cell.value;
      else problems.push({ row: i + 1, column: column.name, value: textOf(given).slice(0, 80), remedy: cell.remedy });
    }
    if (problems.length >= MOST_PROBLEMS) break;
    records.push(read);
  }
  return problems.length > 0 ? { ok: false, problems } : { ok: true, records };
}

type Raw = { ok: true; records: Record<string, unknown>[] } | { ok: false; problems: TableProblem[] };

async function rawRecords(bytes: Uint8Array): Promise<Raw> {
  const format = tableFormatOf(bytes);
  try {
    if (format === 'parquet') {
      // A copy, because a Node buffer may be a part of a larger one.
      const file = new Uint8Array(bytes).buffer;
      return { ok: true, records: await parquetReadObjects({ file }) };
    }
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    if (format === 'csv') {
      const delimiter = text.slice(0, 4096).split('\n', 1)[0].includes(';') ? ';' : ',';
      const records: Record<string, unknown>[] = parse(text, {
        columns: (names: string[]) => names.map((name) => name.trim().toLowerCase()),
        bom: true,
        delimiter,
        skip_empty_lines: true,
        trim: true,
      });
      return { ok: true, records };
    }
    return jsonLines(text);
  } catch (error) {
    const reason = error instanceof Error ? error.message.split('\n', 1)[0] : String(error);
    return {
      ok: false,
      problems: [whole('', `not readable as ${format} (${reason}); send CSV, JSON lines or Parquet`)],
    };
  }
}

function jsonLines(text: string): Raw {
  const records: Record<string, unknown>[] = [];
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    try {
      const value: unknown = JSON.parse(line);
      if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new TypeError('not an object');
      records.push(value as Record<string, unknown>);
    } catch {
      const remedy = 'one JSON object a line';
      return { ok: false, problems: [{ row: i + 1, column: '', value: line.slice(0, 80), remedy }] };
    }
  }
  return { ok: true, records };
}

function headerOf(column: TableColumn, record: Record<string, unknown>): string | undefined {
  return [column.name, ...(column.aliases ?? [])].find((name) => name in record);
}

function whole(column: string, remedy: string): TableProblem {
  return { row: 0, column, value: '', remedy };
}

type CellResult = { ok: true; value: Cell } | { ok: false; remedy: string };

function readCell(given: unknown, column: TableColumn, zone: string): CellResult {
  if (given === null || given === undefined || given === '' || Number.isNaN(given)) {
    return column.isOptional ? { ok: true, value: null } : { ok: false, remedy: 'must not be empty' };
  }
  switch (column.type) {
    case 'number': {
      const value = typeof given === 'string' ? Number(given) : Number(given as number | bigint);
      return Number.isFinite(value) ? { ok: true, value } : { ok: false, remedy: 'a number with a decimal point' };
    }
    case 'date': {
      const value = given instanceof Date ? given.toISOString().slice(0, 10) : textOf(given);
      const isDate = /^\d{4}-\d{2}-\d{2}$/.test(value) && !Number.isNaN(Date.parse(value));
      return isDate ? { ok: true, value } : { ok: false, remedy: 'a date as YYYY-MM-DD' };
    }
    case 'instant': {
      const at = given instanceof Date ? given.getTime() : Date.parse(withOffset(textOf(given), zone));
      if (Number.isNaN(at)) return { ok: false, remedy: 'an instant as 2031-03-14T17:30:00+01:00' };
      return { ok: true, value: isoInZone(at, zone) };
    }
    case 'text':
      return { ok: true, value: textOf(given).replace(/^'(?=[=+\-@\t\r])/, '') };
  }
}

function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  return typeof value === 'object' ? JSON.stringify(value) : String(value as string | number | bigint | boolean);
}

function withOffset(text: string, zone: string): string {
  if (/(Z|[+-]\d{2}:\d{2})$/.test(text)) return text;
  return /^[+-]/.test(zone) ? `${text}${zone}` : text;
}
