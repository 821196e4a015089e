import {
  type ChainField,
  type ChainFormat,
  type ColumnMapping,
  isWide,
  ownField,
  SIDED_FIELDS,
  type SidedField,
  type TypedCells,
} from '../chain-format/index.ts';
import { FILE_LIMITS, type FileLimits } from '../file-limits/index.ts';
import { type ListedOption, readOptionSymbol } from '../option-symbol/index.ts';
import { isSymbol, SYMBOL_RULE } from '../symbol/index.ts';
import { type FileFormat, type FileSource, gridRows, Unreadable } from '../table-file/index.ts';
import { civilInZone, INSTANT_RANGE, isInRange } from '../zone/index.ts';
import { findDate, parseInstant, parseInstantInTwo } from '../cell-text/index.ts';
import { isMissing, parseCount, parseNumber, parsePrice, parseSide, parseVolatility } from '../cell-text/index.ts';

type Side = 'call' | 'put';

/** One quote of a chain file. NaN stands for what the file does not say. Instants in milliseconds since 1970 UTC. */
export interface ChainRow {
  line: number;
  underlying: string;
  asOf: number;
  underlyingPrice: number;
  expiry: number;
  side: Side;
  strike: number;
  bid: number;
  ask: number;
  /** Contracts wanted and offered */
  bidSize: number;
  askSize: number;
  last: number;
  volume: number;
  openInterest: number;
  /** Implied volatilities, decimals: what is quoted where there are no prices */
  volatility: number;
  bidVolatility: number;
  askVolatility: number;
  /** What the file quotes: prices, or volatilities that prices are made of */
  quotedIn: 'price' | 'volatility';
  /** Whether the underlying's price is quoted or implied by parity; NaN is yet to be implied */
  priceSource: 'quote' | 'parity';
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
  | 'not-a-listed-symbol'
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
  typed: TypedCells;
  /** Zone of dates and times without an offset */
  zone: string;
  /** Time of day that an expiry date without a time means, HH:MM */
  sessionClose: string;
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
  'not-a-listed-symbol': 'a listed symbol of 21 characters, such as KELPA 310418C00082500 with its root in six places',
};

const PRICES = ['bid', 'ask', 'last'] as const;
const COUNTS = ['bidSize', 'askSize', 'volume', 'openInterest'] as const;
const VOLATILITIES = ['volatility', 'bidVolatility', 'askVolatility'] as const;
const DAY = 86_400_000;
const MINUTE = 60_000;

/** Thrown within the reading of one row. */
class Wrong extends Error {
  readonly field: ChainField;
  readonly code: keyof typeof REMEDIES;
  readonly value: string;
  constructor(field: ChainField, code: keyof typeof REMEDIES, value: string) {
    super(code);
    this.field = field;
    this.code = code;
    this.value = value;
  }
}

/** Turns lines of cells into quotes: one a line, or two where calls and puts of a strike stand in one line. */
export class RowReader {
  readonly #o: ReadChainOptions;
  readonly #isWide: boolean;
  /** Last of the columns without which a line is no row */
  readonly #needed: number;
  /** Texts of instants read before: there are few different ones in millions of rows */
  readonly #instants = new Map<string, number | undefined>();
  /** Expiry that a line of its own gave to the rows under it */
  #section: string | undefined;

  constructor(o: ReadChainOptions) {
    this.#o = o;
    this.#isWide = isWide(o.mapping);
    const { mapping } = o;
    const told = [mapping.strike, mapping.side, mapping.expiry, mapping.asOf, mapping.underlying, mapping.optionSymbol];
    this.#needed = Math.max(...told.map((column) => column ?? -1));
  }

  /** Quotes of a line, or the first problem found in it; nothing of lines that only divide the others. */
  read(cells: readonly string[], line: number): (ChainRow | RowProblem)[] {
    if (this.#isSection(cells)) return [];
    if (cells.length <= this.#needed) {
      const remedy = `the row has ${cells.length} cells where ${this.#needed + 1} are needed`;
      const value = cells.join(this.#o.format.delimiter).slice(0, 80);
      return [{ line, field: 'row', value, code: 'too-few-cells', remedy }];
    }
    try {
      return this.#isWide ? this.#readBoth(cells, line) : [this.#readOne(cells, line, undefined)];
    } catch (error) {
      if (!(error instanceof Wrong)) throw error;
      const { field, code, value } = error;
      return [{ line, field, value: value.slice(0, 80), code, remedy: REMEDIES[code] }];
    }
  }

  /** A line with hardly anything but a date begins the rows of an expiry, where no column gives it. */
  #isSection(cells: readonly string[]): boolean {
    const { mapping } = this.#o;
    if (mapping.expiry !== undefined || mapping.days !== undefined || mapping.years !== undefined) return false;
    const filled = cells.filter((cell) => cell.trim() !== '');
    if (filled.length === 0 || filled.length > 2) return false;
    const date = findDate(filled.join(' '));
    if (date === undefined) return false;
    this.#section = date;
    return true;
  }

  #text(cells: readonly string[], field: ChainField): string {
    const column = this.#o.mapping[field];
    if (column !== undefined) return (cells[column] ?? '').trim();
    return ((this.#o.typed as Partial<Record<ChainField, string>>)[field] ?? '').trim();
  }

  #readBoth(cells: readonly string[], line: number): (ChainRow | RowProblem)[] {
    return (['call', 'put'] as const).flatMap((side) => {
      const isQuoted = SIDED_FIELDS.some(
        (field) =>
          field !== 'strike' && field !== 'optionSymbol' && !isMissing(this.#text(cells, ownField(side, field))),
      );
      return isQuoted ? [this.#readOne(cells, line, side)] : [];
    });
  }

  /** @param own in a wide file the side that is read, else undefined */
  #readOne(cells: readonly string[], line: number, own: Side | undefined): ChainRow {
    const placed = (field: SidedField): ChainField => {
      const ownColumn = own && ownField(own, field);
      return ownColumn && this.#o.mapping[ownColumn] !== undefined ? ownColumn : field;
    };
    const listed = this.#listed(cells, placed('optionSymbol'));
    const underlying = this.#text(cells, 'underlying') || (listed?.root ?? '');
    if (underlying === '') throw new Wrong('underlying', 'empty', '');
    if (!isSymbol(underlying)) throw new Wrong('underlying', 'not-a-symbol', underlying);
    const side = own ?? this.#side(cells, listed);
    const asOf = this.#asOf(cells);
    const expiry = this.#expiry(cells, asOf, listed);
    const quote: ChainRow = {
      line,
      underlying: underlying.toUpperCase(),
      asOf,
      underlyingPrice: this.#amount(cells, 'underlyingPrice', parsePrice, { isPositive: true }),
      expiry,
      side,
      strike: this.#strike(cells, placed('strike'), listed),
      bid: NaN,
      ask: NaN,
      bidSize: NaN,
      askSize: NaN,
      last: NaN,
      volume: NaN,
      openInterest: NaN,
      volatility: NaN,
      bidVolatility: NaN,
      askVolatility: NaN,
      quotedIn: this.#text(cells, 'quotedIn').toLowerCase() === 'volatility' ? 'volatility' : 'price',
      priceSource: this.#text(cells, 'priceSource').toLowerCase() === 'parity' ? 'parity' : 'quote',
    };
    for (const field of PRICES) quote[field] = this.#amount(cells, placed(field), parsePrice);
    // An offer of nothing is none; a bid of 0 is what somebody would pay.
    if (quote.ask === 0) quote.ask = NaN;
    for (const field of COUNTS) quote[field] = this.#amount(cells, placed(field), parseCount);
    const { decimal, volatilityUnit: unit } = this.#o.format;
    for (const field of VOLATILITIES) {
      const value = this.#amount(cells, placed(field), (text) => parseVolatility(text, { decimal, unit }));
      quote[field] = value === 0 ? NaN : value;
    }
    if (Number.isNaN(quote.bid) && Number.isNaN(quote.ask) && isQuotedInVolatility(quote))
      quote.quotedIn = 'volatility';
    if (Number.isNaN(quote.underlyingPrice)) quote.priceSource = 'parity';
    return quote;
  }

  #listed(cells: readonly string[], field: ChainField): ListedOption | undefined {
    const text = this.#text(cells, field);
    if (text === '' || this.#o.mapping[field] === undefined) return undefined;
    const listed = readOptionSymbol(text);
    const { mapping, typed } = this.#o;
    const isNeeded = mapping.strike === undefined || (mapping.expiry === undefined && typed.expiry === undefined);
    if (!listed && isNeeded) throw new Wrong(field, 'not-a-listed-symbol', text);
    return listed;
  }

  #side(cells: readonly string[], listed: ListedOption | undefined): Side {
    const text = this.#text(cells, 'side');
    if (text === '' && listed) return listed.side;
    const side = parseSide(text);
    if (!side) throw new Wrong('side', text === '' ? 'empty' : 'not-a-side', text);
    return side;
  }

  #strike(cells: readonly string[], field: ChainField, listed: ListedOption | undefined): number {
    const text = this.#text(cells, field);
    if (isMissing(text)) {
      if (listed) return listed.strike;
      throw new Wrong(field, 'empty', text);
    }
    return this.#amount(cells, field, parsePrice, { isPositive: true });
  }

  #asOf(cells: readonly string[]): number {
    const text = this.#text(cells, 'asOf');
    const time = this.#text(cells, 'time');
    const at = this.#remembered(`${text}\n${time}`, () =>
      time === '' ? this.#instant(text) : parseInstantInTwo(text, time, this.#instantOptions()),
    );
    return checkedInstant('asOf', at, text);
  }

  #expiry(cells: readonly string[], asOf: number, listed: ListedOption | undefined): number {
    const { mapping, format } = this.#o;
    for (const [field, length] of [
      ['days', DAY],
      ['years', 365 * DAY],
    ] as const) {
      if (mapping.expiry !== undefined || mapping[field] === undefined) continue;
      const text = this.#text(cells, field);
      const amount = parseNumber(text, format.decimal);
      if (Number.isNaN(amount)) throw new Wrong(field, isMissing(text) ? 'empty' : 'not-a-number', text);
      if (amount < 0) throw new Wrong(field, 'expired', text);
      // Whole days are civil days: the close of that day. Fractions are exact as far as they are written.
      const isDate = field === 'days' && Number.isInteger(amount);
      const at = isDate
        ? this.#remembered(`${asOf}+${amount}`, () => this.#closeAfter(asOf, amount))
        : Math.round((asOf + amount * length) / MINUTE) * MINUTE;
      return this.#afterInstant(field, at, asOf, text);
    }
    const text = this.#text(cells, 'expiry');
    const own = mapping.expiry === undefined ? (this.#section ?? text) : text;
    const given = own === '' ? (listed?.expiry ?? '') : own;
    if (given === '') throw new Wrong('expiry', 'empty', '');
    return this.#afterInstant(
      'expiry',
      this.#remembered(given, () => this.#instant(given)),
      asOf,
      given,
    );
  }

  #afterInstant(field: ChainField, at: number | undefined, asOf: number, text: string): number {
    const expiry = checkedInstant(field, at, text);
    if (expiry <= asOf) throw new Wrong(field, 'expired', text);
    return expiry;
  }

  /** Close of the session a number of civil days after an instant. */
  #closeAfter(asOf: number, days: number): number | undefined {
    const { year, month, day } = civilInZone(asOf, this.#o.zone);
    const date = new Date(Date.UTC(year, month - 1, day + days)).toISOString().slice(0, 10);
    return this.#instant(date);
  }

  #instant(text: string): number | undefined {
    return parseInstant(text, this.#instantOptions());
  }

  #instantOptions() {
    return { order: this.#o.format.dateOrder, zone: this.#o.zone, defaultTime: this.#o.sessionClose };
  }

  #remembered(key: string, read: () => number | undefined): number | undefined {
    if (this.#instants.has(key)) return this.#instants.get(key);
    const value = read();
    if (this.#instants.size > 5000) this.#instants.clear();
    this.#instants.set(key, value);
    return value;
  }

  #amount(
    cells: readonly string[],
    field: ChainField,
    parse: (text: string, decimal: '.' | ',') => number,
    o: { isPositive?: boolean } = {},
  ): number {
    const text = this.#text(cells, field);
    if (text === '' || isMissing(text)) return NaN;
    const value = parse(text, this.#o.format.decimal);
    if (!Number.isFinite(value)) throw new Wrong(field, 'not-a-number', text);
    if (o.isPositive && value <= 0) throw new Wrong(field, 'not-positive', text);
    if (value < 0) throw new Wrong(field, 'negative', text);
    return value;
  }
}

function isQuotedInVolatility(quote: ChainRow): boolean {
  return VOLATILITIES.some((field) => quote[field] > 0);
}

function checkedInstant(field: ChainField, at: number | undefined, text: string): number {
  if (at === undefined) throw new Wrong(field, isMissing(text) ? 'empty' : 'not-a-date', text);
  if (!isInRange(at)) throw new Wrong(field, 'out-of-range', text);
  return at;
}

export function isProblem(row: ChainRow | RowProblem): row is RowProblem {
  return 'code' in row;
}

/**
 * Reads a chain file row by row; of texts and lines of JSON nothing is held in memory.
 * @returns quotes and problems in the order of the file
 * @throws Error from the source; LimitExceeded; malformed quoting becomes a problem row by relaxed quotes
 */
export async function* readChain(
  source: FileSource,
  kind: FileFormat,
  o: ReadChainOptions,
  limits: FileLimits = FILE_LIMITS,
): AsyncGenerator<ChainRow | RowProblem> {
  const reader = new RowReader(o);
  let header = '';
  try {
    for await (const { line, cells } of gridRows(source, kind, { format: o.format, limits })) {
      if (line < o.format.headerLine) continue;
      const key = cells.join('\n').trim();
      if (line === o.format.headerLine) header = key;
      // A header may stand again above each expiry's rows.
      else if (key !== header || kind !== 'csv') yield* reader.read(cells, line);
    }
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    yield { line: error.row, field: 'row', value: error.value, code: 'bad-cell', remedy: error.remedy };
  }
}
