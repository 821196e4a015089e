import { pipeline, Readable } from 'node:stream';
import { parse } from 'csv-parse';
import {
  CHAIN_FIELDS,
  type ChainField,
  type ChainFormat,
  type ColumnMapping,
  REQUIRED_COLUMNS,
  TYPEABLE_COLUMNS,
} from '../chain-format/index.ts';
import { checkLimit, FILE_LIMITS, type FileLimits } from '../file-limits/index.ts';
import { isSymbol, SYMBOL_RULE } from '../symbol/index.ts';
import { INSTANT_RANGE, isInRange } from '../zone/index.ts';
import { parseInstant, parseNumber, parseSide } from './parse-values.ts';

/** One quote of a chain file. NaN stands for a cell left empty. Instants in milliseconds since 1970 UTC. */
export interface ChainRow {
  line: number;
  underlying: string;
  asOf: number;
  underlyingPrice: number;
  expiry: number;
  side: 'call' | 'put';
  strike: number;
  bid: number;
  ask: number;
  /** Contracts wanted and offered */
  bidSize: number;
  askSize: number;
  last: number;
  volume: number;
  openInterest: number;
}

export type RowProblemCode =
  | 'empty'
  | 'not-a-number'
  | 'not-positive'
  | 'negative'
  | 'not-a-date'
  | 'not-a-side'
  | 'out-of-range'
  | 'expired'
  | 'not-a-symbol'
  | 'too-few-cells'
  | 'bad-cell'
  | 'duplicate';

/** What is wrong with one row, where, and how to mend it. */
export interface RowProblem {
  line: number;
  field: ChainField | 'row';
  value: string;
  code: RowProblemCode;
  remedy: string;
}

export interface ReadChainOptions {
  format: ChainFormat;
  mapping: ColumnMapping;
  /** Values for columns that the file lacks, as they would stand in a cell */
  typed: { underlying?: string; asOf?: string; underlyingPrice?: string };
  /** Zone of dates and times without an offset */
  zone: string;
  /** Time of day that an expiry date without a time means, HH:MM */
  sessionClose: string;
}

/** Columns that are neither mapped nor typed in. */
export function missingColumns(mapping: ColumnMapping, typed: ReadChainOptions['typed']): ChainField[] {
  const isTyped = (field: ChainField) => Boolean((typed as Partial<Record<ChainField, string>>)[field]?.trim());
  return [...REQUIRED_COLUMNS, ...TYPEABLE_COLUMNS].filter((f) => mapping[f] === undefined && !isTyped(f));
}

const REMEDIES: Record<Exclude<RowProblemCode, 'too-few-cells' | 'bad-cell' | 'duplicate'>, string> = {
  empty: 'fill the cell, or map another column',
  'not-a-number': 'write a plain number; check the decimal mark above',
  'not-positive': 'must be above 0',
  negative: 'must be 0 or more; leave it empty when there is no quote',
  'not-a-date': 'write an existing date; check the date order above',
  'not-a-side': 'write call or put (C or P)',
  expired: 'the expiry must come after the instant of the quotes',
  'out-of-range': `the year must lie in ${INSTANT_RANGE}`,
  'not-a-symbol': SYMBOL_RULE,
};

/** Turns one record of cells into a row or the first problem found in it. */
export function parseRow(cells: readonly string[], line: number, o: ReadChainOptions): ChainRow | RowProblem {
  const textOf = (field: ChainField): string => {
    const column = o.mapping[field];
    if (column !== undefined) return (cells[column] ?? '').trim();
    return ((o.typed as Partial<Record<ChainField, string>>)[field] ?? '').trim();
  };
  const problem = (field: ChainField, code: keyof typeof REMEDIES): RowProblem => ({
    line,
    field,
    value: textOf(field),
    code,
    remedy: REMEDIES[code],
  });
  const needed = Math.max(...CHAIN_FIELDS.map((f) => o.mapping[f] ?? -1));
  if (cells.length <= needed) {
    const remedy = `the row has ${cells.length} cells where ${needed + 1} are needed`;
    return { line, field: 'row', value: cells.join(o.format.delimiter).slice(0, 80), code: 'too-few-cells', remedy };
  }

  const underlying = textOf('underlying');
  if (underlying === '') return problem('underlying', 'empty');
  if (!isSymbol(underlying)) return problem('underlying', 'not-a-symbol');
  const side = parseSide(textOf('side'));
  if (!side) return problem('side', textOf('side') === '' ? 'empty' : 'not-a-side');

  const date = { order: o.format.dateOrder, zone: o.zone, defaultTime: o.sessionClose };
  const asOf = parseInstant(textOf('asOf'), date);
  if (asOf === undefined) return problem('asOf', textOf('asOf') === '' ? 'empty' : 'not-a-date');
  if (!isInRange(asOf)) return problem('asOf', 'out-of-range');
  const expiry = parseInstant(textOf('expiry'), date);
  if (expiry === undefined) return problem('expiry', textOf('expiry') === '' ? 'empty' : 'not-a-date');
  if (!isInRange(expiry)) return problem('expiry', 'out-of-range');
  if (expiry <= asOf) return problem('expiry', 'expired');

  const numbers = {} as Record<(typeof NUMBERS)[number], number>;
  for (const field of NUMBERS) {
    const text = textOf(field);
    const isPrice = field === 'strike' || field === 'underlyingPrice';
    if (text === '') {
      if (isPrice) return problem(field, 'empty');
      numbers[field] = NaN;
      continue;
    }
    const value = parseNumber(text, o.format.decimal);
    if (!Number.isFinite(value)) return problem(field, 'not-a-number');
    if (isPrice && value <= 0) return problem(field, 'not-positive');
    if (value < 0) return problem(field, 'negative');
    numbers[field] = value;
  }
  return { line, underlying: underlying.toUpperCase(), asOf, expiry, side, ...numbers };
}

const NUMBERS = [
  'underlyingPrice',
  'strike',
  'bid',
  'ask',
  'bidSize',
  'askSize',
  'last',
  'volume',
  'openInterest',
] as const;

export function isProblem(row: ChainRow | RowProblem): row is RowProblem {
  return 'code' in row;
}

/**
 * Reads a chain file row by row without holding it in memory.
 * @param source bytes of the file, in order
 * @returns rows and problems in the order of the file
 * @throws Error from the source; LimitExceeded; malformed quoting becomes a problem row by relaxed quotes
 */
export async function* readChain(
  source: AsyncIterable<Uint8Array>,
  o: ReadChainOptions,
  limits: FileLimits = FILE_LIMITS,
): AsyncGenerator<ChainRow | RowProblem> {
  const decoder = new TextDecoder(o.format.encoding);
  async function* decoded(): AsyncGenerator<string> {
    for await (const bytes of source) yield decoder.decode(bytes, { stream: true });
    yield decoder.decode();
  }
  const parser = pipeline(
    Readable.from(decoded(), { objectMode: false, encoding: 'utf8' }),
    parse({
      delimiter: o.format.delimiter,
      relax_column_count: true,
      relax_quotes: true,
      skip_empty_lines: true,
      bom: true,
      info: true,
      from_line: 2,
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
    yield parseRow(record, info.lines, o);
  }
}
