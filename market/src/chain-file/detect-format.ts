import { parse } from 'csv-parse/sync';
import {
  type ChainFormat,
  type ColumnMapping,
  type DecimalMark,
  type Delimiter,
  DELIMITERS,
  type Encoding,
  mapColumns,
} from '../chain-format/index.ts';
import { detectDateOrder } from './parse-values.ts';

export type DetectResult =
  | {
      ok: true;
      format: ChainFormat;
      headers: string[];
      /** First rows as text, without the header */
      rows: string[][];
      mapping: ColumnMapping;
      /** Day and month could be either way round in what was seen */
      isDateOrderAmbiguous: boolean;
    }
  | { ok: false; reason: 'empty' | 'binary' | 'no-table' };

const SAMPLE_ROWS = 200;

/** Recognises encoding, delimiter, decimal mark, date order and columns from the first bytes of a file. */
export function detectFormat(sample: Uint8Array, o: { isWhole: boolean }): DetectResult {
  if (sample.length === 0) return { ok: false, reason: 'empty' };
  const encoding = detectEncoding(sample);
  if (!encoding) return { ok: false, reason: 'binary' };
  const text = new TextDecoder(encoding).decode(sample);
  const lines = text.split(/\r\n|\n|\r/);
  // The last line of a cut sample may end anywhere.
  const whole = o.isWhole || lines.length === 1 ? lines : lines.slice(0, -1);
  const filled = whole.filter((line) => line.trim() !== '');
  if (filled.length === 0) return { ok: false, reason: 'empty' };
  const delimiter = detectDelimiter(filled.slice(0, 20));
  if (!delimiter) return { ok: false, reason: 'no-table' };
  let records: string[][];
  try {
    records = parse(filled.slice(0, SAMPLE_ROWS + 1).join('\n'), {
      delimiter,
      relax_column_count: true,
      relax_quotes: true,
    });
  } catch {
    return { ok: false, reason: 'no-table' };
  }
  const [headers, ...rows] = records.map((r) => r.map((cell) => cell.trim()));
  const mapping = mapColumns(headers);
  const dates = (['expiry', 'asOf'] as const).flatMap((field) => {
    const column = mapping[field];
    return column === undefined ? [] : rows.map((r) => r[column] ?? '');
  });
  const { order, isAmbiguous } = detectDateOrder(dates);
  return {
    ok: true,
    format: { encoding, delimiter, decimal: detectDecimal(rows, mapping), dateOrder: order },
    headers,
    rows,
    mapping,
    isDateOrderAmbiguous: isAmbiguous,
  };
}

function detectEncoding(sample: Uint8Array): Encoding | undefined {
  if (sample[0] === 0xff && sample[1] === 0xfe) return 'utf-16le';
  if (sample[0] === 0xfe && sample[1] === 0xff) return 'utf-16be';
  // Text has no control characters but tab, line feed, form feed and carriage return.
  let controls = 0;
  for (const byte of sample) if (byte < 32 && byte !== 9 && byte !== 10 && byte !== 12 && byte !== 13) controls++;
  if (controls > 0) return undefined;
  // A sample may end inside a character: streaming mode does not count that as malformed.
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(sample, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/** The delimiter that splits every line into the same number (over one) of cells, most cells first. */
function detectDelimiter(lines: string[]): Delimiter | undefined {
  const headerCells = (d: string) => lines[0].split(d).length;
  const candidates = DELIMITERS.filter((d) => headerCells(d) > 1).sort((a, b) => headerCells(b) - headerCells(a));
  const consistent = candidates.find((d) => lines.every((line) => line.split(d).length >= headerCells(d)));
  return consistent ?? candidates[0];
}

function detectDecimal(rows: string[][], mapping: ColumnMapping): DecimalMark {
  for (const field of ['bid', 'ask', 'strike', 'underlyingPrice', 'last'] as const) {
    const column = mapping[field];
    if (column === undefined) continue;
    for (const row of rows) {
      // The last mark of a number is its decimal mark, unless exactly three digits follow (then it may group).
      const match = /([.,])(\d+)$/.exec(row[column] ?? '');
      if (match && match[2].length !== 3) return match[1] as DecimalMark;
    }
  }
  return '.';
}
