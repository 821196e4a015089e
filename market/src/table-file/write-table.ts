import { stringify } from 'csv-stringify/sync';
import { parquetWriteBuffer } from 'hyparquet-writer';
import {
  type ColumnType,
  columnsOf,
  escapeFormula,
  type TableFormat,
  type TableKind,
  type TableRecord,
} from '../table-format/index.ts';

const encoder = new TextEncoder();
const PARQUET_TYPES = { text: 'STRING', number: 'DOUBLE', date: 'STRING', instant: 'TIMESTAMP' } as const;

/**
 * Writes a table piece by piece: CSV (RFC 4180, UTF-8, every digit of a number, a leading apostrophe before what a
 * spreadsheet would take for a formula), one JSON object a line, or Parquet, which is held in memory as a whole and keeps
 * instants to the millisecond. Read again it gives the same records.
 */
export async function* writeTable(
  kind: TableKind,
  pieces: AsyncIterable<TableRecord[]> | Iterable<TableRecord[]>,
  format: TableFormat,
): AsyncGenerator<Uint8Array> {
  const names = columnsOf(kind).map((c) => c.name);
  if (format === 'parquet') {
    const all: TableRecord[] = [];
    for await (const piece of pieces) for (const record of piece) all.push(record);
    yield parquetOf(kind, all);
    return;
  }
  if (format === 'csv') yield encoder.encode(`${names.join(',')}\n`);
  for await (const piece of pieces) {
    const text =
      format === 'csv'
        ? stringify(piece, { columns: names, cast: { string: escapeFormula } })
        : piece.map((record) => `${JSON.stringify(pick(record, names))}\n`).join('');
    if (text !== '') yield encoder.encode(text);
  }
}

function pick(record: TableRecord, names: string[]): TableRecord {
  return Object.fromEntries(names.map((name) => [name, record[name] ?? null]));
}

function parquetOf(kind: TableKind, records: TableRecord[]): Uint8Array {
  const columnData = columnsOf(kind).map(({ name, type }) => ({
    name,
    type: PARQUET_TYPES[type],
    nullable: true,
    data: records.map((record) => parquetValue(record[name] ?? null, type)),
  }));
  return new Uint8Array(parquetWriteBuffer({ columnData }));
}

function parquetValue(value: string | number | null, type: ColumnType): string | number | Date | null {
  return value !== null && type === 'instant' ? new Date(value) : value;
}
