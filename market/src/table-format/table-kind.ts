/** What a cell holds. Dates are YYYY-MM-DD, instants ISO 8601 with offset. */
export type ColumnType = 'text' | 'number' | 'date' | 'instant';

export interface TableColumn {
  name: string;
  type: ColumnType;
  /** May be empty, or absent as a whole */
  isOptional?: boolean;
  /** Other headers that mean it, lower case */
  aliases?: readonly string[];
}

export type Cell = string | number | null;
export type TableRecord = Record<string, Cell>;

/** Tables that leave and come in as files, by name. What one writes the other reads. */
export const TABLES = {
  chains: [
    { name: 'underlying', type: 'text' },
    { name: 'as_of', type: 'instant' },
    { name: 'underlying_price', type: 'number' },
    { name: 'expiry', type: 'instant' },
    { name: 'side', type: 'text' },
    { name: 'strike', type: 'number' },
    { name: 'bid', type: 'number', isOptional: true },
    { name: 'ask', type: 'number', isOptional: true },
    { name: 'bid_size', type: 'number', isOptional: true },
    { name: 'ask_size', type: 'number', isOptional: true },
    { name: 'last', type: 'number', isOptional: true },
    { name: 'volume', type: 'number', isOptional: true },
    { name: 'open_interest', type: 'number', isOptional: true },
    { name: 'option_symbol', type: 'text', isOptional: true },
  ],
  bars: [
    { name: 'underlying', type: 'text', aliases: ['symbol'] },
    { name: 'session', type: 'date', aliases: ['date', 'day'] },
    { name: 'open', type: 'number' },
    { name: 'high', type: 'number' },
    { name: 'low', type: 'number' },
    { name: 'close', type: 'number' },
    { name: 'volume', type: 'number' },
  ],
  rates: [
    { name: 'currency', type: 'text' },
    { name: 'session', type: 'date', aliases: ['date'] },
    { name: 'days', type: 'number' },
    { name: 'rate', type: 'number' },
  ],
  dividends: [
    { name: 'underlying', type: 'text', aliases: ['symbol'] },
    { name: 'ex_date', type: 'date' },
    { name: 'instant', type: 'instant' },
    { name: 'amount', type: 'number' },
  ],
  events: [
    { name: 'underlying', type: 'text', aliases: ['symbol'] },
    { name: 'instant', type: 'instant' },
    { name: 'kind', type: 'text' },
    { name: 'label', type: 'text' },
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
