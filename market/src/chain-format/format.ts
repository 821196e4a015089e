export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;
export type Encoding = (typeof ENCODINGS)[number];
export const DELIMITERS = [',', ';', '\t', '|'] as const;
export type Delimiter = (typeof DELIMITERS)[number];
export type DecimalMark = '.' | ',';
/** Order of day, month and year where a date is not ISO 8601. */
export type DateOrder = 'iso' | 'dmy' | 'mdy';

/** How a chain file is written. */
export interface ChainFormat {
  encoding: Encoding;
  delimiter: Delimiter;
  decimal: DecimalMark;
  dateOrder: DateOrder;
}
