import { checkLimit, type FileLimits } from '../file-limits/index.ts';
import type { FileFormat, FileSource } from './file-source.ts';
import { checkMembers, jsonArrayRecords, jsonLineRecords } from './json-records.ts';
import { parquetRecords } from './parquet-records.ts';

export interface RawRow {
  /** Row of the table counted from 1, without the header */
  row: number;
  record: Record<string, unknown>;
}

/** Formats whose rows name their values. */
export type RecordFormat = Exclude<FileFormat, 'csv' | 'workbook'>;

/**
 * Rows of a file whose rows name their values, one by one.
 * @throws LimitExceeded; Unreadable
 */
export async function* rawRows(source: FileSource, format: RecordFormat, limits: FileLimits): AsyncGenerator<RawRow> {
  let row = 0;
  for await (const record of recordsOf(source, format, limits)) {
    row++;
    checkLimit(limits, 'rows', row);
    checkMembers(record, limits);
    yield { row, record };
  }
}

function recordsOf(
  source: FileSource,
  format: RecordFormat,
  limits: FileLimits,
): AsyncGenerator<Record<string, unknown>> {
  switch (format) {
    case 'parquet':
      return parquetRecords(source.parts, limits);
    case 'jsonl':
      return jsonLineRecords(source, limits);
    case 'json':
      return jsonArrayRecords(source, limits);
  }
}
