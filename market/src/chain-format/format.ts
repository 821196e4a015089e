export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;
export type Encoding = (typeof ENCODINGS)[number];
export const DELIMITERS = [',', ';', '\t', '|'] as const;
export type Delimiter = (typeof DELIMITERS)[number];
export type DecimalMark = '.' | ',';
/** Order of day, month and year where a date is written in numbers and is not ISO 8601. */
export type DateOrder = 'iso' | 'dmy' | 'mdy';
/** Whether 27.4 % is written as 0.274 or 27.4; a percent sign tells by itself. */
export type VolatilityUnit = 'decimal' | 'percent';

/** How a chain file is written. */
export interface ChainFormat {
  encoding: Encoding;
  delimiter: Delimiter;
  decimal: DecimalMark;
  dateOrder: DateOrder;
  volatilityUnit: VolatilityUnit;
  /** Line of the header, counted from 1; of a workbook its row; of JSON and Parquet 0 */
  headerLine: number;
  /** Of a workbook: the sheet's name */
  sheet?: string;
}
