import { pipeline, Readable } from 'node:stream';
import { parse } from 'csv-parse';
import type { ChainFormat } from '../chain-format/index.ts';
import { checkLimit, type FileLimits, unfolded } from '../file-limits/index.ts';
import { isoInZone } from '../zone/index.ts';
import type { FileFormat, FileSource } from './file-source.ts';
import { rawRows } from './raw-rows.ts';
import { readSheets } from './workbook.ts';

/** One line of a file as cells of text. */
export interface GridRow {
  /** Counted from 1, of a text where the line ends; the names of JSON's and Parquet's columns stand in line 0 */
  line: number;
  cells: string[];
}

type GridFormat = Pick<ChainFormat, 'encoding' | 'delimiter' | 'sheet'>;

const SIDE = /^(?:calls?|puts?|c|p)$/i;

/** Objects looked through for names of members before the first is handed on: members may be left out. */
const NAMED_BY = 200;

/**
 * Lines of a file of any format as cells of text, one by one; empty ones are passed over.
 * @throws Error from the source; LimitExceeded; Unreadable
 */
export function gridRows(
  source: FileSource,
  kind: FileFormat,
  o: { format: GridFormat; limits: FileLimits },
): AsyncGenerator<GridRow> {
  switch (kind) {
    case 'csv':
      return delimitedRows(source, o.format, o.limits);
    case 'workbook':
      return sheetRows(source, o.format.sheet, o.limits);
    case 'json':
    case 'jsonl':
    case 'parquet':
      return recordRows(source, kind, o.limits);
  }
}

async function* delimitedRows(source: FileSource, format: GridFormat, limits: FileLimits): AsyncGenerator<GridRow> {
  const decoder = new TextDecoder(format.encoding);
  async function* decoded(): AsyncGenerator<string> {
    for await (const bytes of unfolded(source.bytes(), limits)) yield decoder.decode(bytes, { stream: true });
    yield decoder.decode();
  }
  const parser = pipeline(
    Readable.from(decoded(), { objectMode: false, encoding: 'utf8' }),
    parse({
      delimiter: format.delimiter,
      relax_column_count: true,
      relax_quotes: true,
      skip_empty_lines: true,
      bom: true,
      info: true,
      // One cell or row of rubbish must not grow without bound.
      max_record_size: 1 << 16,
    }),
    // An error of either stream destroys the parser, and the loop below throws it.
    () => undefined,
  );
  let rows = 0;
  for await (const { record, info } of parser as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
    checkLimit(limits, 'rows', ++rows);
    checkLimit(limits, 'columns', record.length);
    yield { line: info.lines, cells: record };
  }
}

async function* sheetRows(source: FileSource, name: string | undefined, limits: FileLimits): AsyncGenerator<GridRow> {
  const sheets = await readSheets(source, limits);
  const sheet = sheets.find((s) => s.name === name) ?? sheets[0];
  for (const [i, cells] of (sheet?.rows ?? []).entries()) {
    if (cells.some((cell) => cell.trim() !== '')) yield { line: i + 1, cells };
  }
}

async function* recordRows(
  source: FileSource,
  kind: 'json' | 'jsonl' | 'parquet',
  limits: FileLimits,
): AsyncGenerator<GridRow> {
  const first: { row: number; record: Record<string, string> }[] = [];
  let names: string[] | undefined;
  const cellsOf = (record: Record<string, string>) => names?.map((name) => record[name] ?? '') ?? [];
  const begin = (): GridRow[] => {
    names = [...new Set(first.flatMap(({ record }) => Object.keys(record)))];
    return [{ line: 0, cells: names }, ...first.map(({ row, record }) => ({ line: row, cells: cellsOf(record) }))];
  };
  for await (const { row, record } of rawRows(source, kind, limits)) {
    const flat = flatRecord(record);
    if (names) yield { line: row, cells: cellsOf(flat) };
    else {
      first.push({ row, record: flat });
      if (first.length === NAMED_BY) yield* begin();
    }
  }
  if (!names && first.length > 0) yield* begin();
}

/** Members as text; those of an object within by their own name, or by both where it tells a side or is taken already. */
function flatRecord(record: Record<string, unknown>): Record<string, string> {
  const flat: Record<string, string> = {};
  for (const [name, value] of Object.entries(record)) {
    if (value !== null && typeof value === 'object' && !(value instanceof Date) && !Array.isArray(value)) {
      for (const [inner, v] of Object.entries(value)) {
        const isOwn = !SIDE.test(name) && !(inner in record) && !(inner in flat);
        flat[isOwn ? inner : `${name} ${inner}`] = cellText(v);
      }
    } else flat[name] = cellText(value);
  }
  return flat;
}

function cellText(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) return Number.isNaN(+value) ? '' : isoInZone(+value, 'UTC');
  // Not what is in it: that may be nested deeper than the stack.
  return typeof value === 'object' ? '(a list or object)' : String(value as string | number | bigint | boolean);
}
