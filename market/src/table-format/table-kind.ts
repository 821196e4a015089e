/** What a cell holds. Dates are YYYY-MM-DD, instants ISO 8601 with offset. */
export type ColumnType = 'text' | 'number' | 'date' | 'instant';

export interface TableColumn {
  name: string;
  type: ColumnType;
  /** May be empty, or absent as a whole */
  isOptional?: boolean;
  /** Other headers that mean it, small letters and digits alone */
  aliases?: readonly string[];
  /** A number must lie above this */
  above?: number;
  /** A number must be this at least, and at most */
  least?: number;
  most?: number;
  /** A number may be written in thousands (K) or millions (M) */
  isCount?: boolean;
  /** A number may be written in percent */
  isShare?: boolean;
  /** Where a file lacks it, it is made of this column */
  from?: string;
  /** A text must be a symbol of an underlying */
  isSymbol?: boolean;
}

export type Cell = string | number | null;
export type TableRecord = Record<string, Cell>;

/** Tables that leave and come in as files, by name. What one writes the other reads. */
export const TABLES = {
  chains: [
    { name: 'underlying', type: 'text', isSymbol: true },
    { name: 'as_of', type: 'instant' },
    { name: 'underlying_price', type: 'number', above: 0 },
    { name: 'expiry', type: 'instant' },
    { name: 'side', type: 'text' },
    { name: 'strike', type: 'number', above: 0 },
    { name: 'bid', type: 'number', isOptional: true, least: 0 },
    { name: 'ask', type: 'number', isOptional: true, least: 0 },
    { name: 'bid_size', type: 'number', isOptional: true, least: 0 },
    { name: 'ask_size', type: 'number', isOptional: true, least: 0 },
    { name: 'last', type: 'number', isOptional: true, least: 0 },
    { name: 'volume', type: 'number', isOptional: true, least: 0 },
    { name: 'open_interest', type: 'number', isOptional: true, least: 0 },
    { name: 'option_symbol', type: 'text', isOptional: true },
    { name: 'quoted_in', type: 'text', isOptional: true },
    { name: 'underlying_price_source', type: 'text', isOptional: true },
    { name: 'underlying_kind', type: 'text', isOptional: true },
    { name: 'exercise_style', type: 'text', isOptional: true },
    { name: 'multiplier', type: 'number', isOptional: true, above: 0 },
    { name: 'currency', type: 'text', isOptional: true },
  ],
  bars: [
    { name: 'underlying', type: 'text', aliases: ['symbol'], isSymbol: true },
    { name: 'session', type: 'date', aliases: ['date', 'day', 'time', 'timestamp', 'tradedate'] },
    { name: 'open', type: 'number', above: 0 },
    { name: 'high', type: 'number', above: 0 },
    { name: 'low', type: 'number', above: 0 },
    { name: 'close', type: 'number', above: 0, aliases: ['closelast', 'last', 'settle', 'settlement'] },
    { name: 'volume', type: 'number', least: 0, isOptional: true, isCount: true, aliases: ['vol', 'shares'] },
  ],
  'intraday-bars': [
    { name: 'underlying', type: 'text', aliases: ['symbol'], isSymbol: true },
    // When the bar ends: what it tells is known then.
    { name: 'bar_end', type: 'instant', aliases: ['barend', 'endtime', 'endinstant', 'until'] },
    { name: 'open', type: 'number', above: 0 },
    { name: 'high', type: 'number', above: 0 },
    { name: 'low', type: 'number', above: 0 },
    { name: 'close', type: 'number', above: 0, aliases: ['closelast', 'last'] },
    { name: 'volume', type: 'number', least: 0, isOptional: true, isCount: true, aliases: ['vol', 'shares'] },
  ],
  splits: [
    { name: 'underlying', type: 'text', aliases: ['symbol'], isSymbol: true },
    { name: 'session', type: 'date', aliases: ['date', 'exdate', 'splitdate', 'effectivedate'] },
    // Shares that one share becomes: 2 when each is cut in two, 0.1 when ten are put together.
    { name: 'ratio', type: 'number', above: 0, aliases: ['splitratio', 'splitfactor', 'sharesperone'] },
  ],
  rates: [
    { name: 'currency', type: 'text', aliases: ['ccy'] },
    { name: 'session', type: 'date', aliases: ['date', 'day', 'asof'] },
    { name: 'days', type: 'number', least: 0, aliases: ['daystomaturity', 'tenordays', 'maturitydays'] },
    { name: 'rate', type: 'number', least: -5, most: 5, isShare: true, aliases: ['zerorate', 'yield', 'interestrate'] },
  ],
  dividends: [
    { name: 'underlying', type: 'text', aliases: ['symbol'], isSymbol: true },
    { name: 'ex_date', type: 'date', aliases: ['exdate', 'exdividenddate', 'exdividend', 'date'] },
    // The price falls before the session opens.
    { name: 'instant', type: 'instant', from: 'ex_date' },
    {
      name: 'amount',
      type: 'number',
      above: 0,
      aliases: ['dividend', 'dividends', 'cash', 'cashamount', 'distribution'],
    },
  ],
  events: [
    { name: 'underlying', type: 'text', aliases: ['symbol'], isSymbol: true },
    { name: 'instant', type: 'instant', aliases: ['date', 'datetime', 'time', 'when', 'start'] },
    { name: 'kind', type: 'text', aliases: ['type', 'event', 'category'] },
    { name: 'label', type: 'text', from: 'kind', aliases: ['title', 'name', 'description', 'summary'] },
  ],
} as const satisfies Record<string, readonly TableColumn[]>;
export type TableKind = keyof typeof TABLES;
export const TABLE_KINDS = Object.keys(TABLES) as TableKind[];

/** Formats of a table; events also come as iCalendar, see `calendar-file`. */
export const TABLE_FORMATS = ['csv', 'jsonl', 'parquet'] as const;
export type TableFormat = (typeof TABLE_FORMATS)[number];

export function columnsOf(kind: TableKind): readonly TableColumn[] {
  return TABLES[kind];
}
