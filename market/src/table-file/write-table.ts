import { stringify } from 'csv-stringify/sync';
import { columnsOf, escapeFormula, type TableFormat, type TableKind, type TableRecord } from '../table-format/index.ts';
import { encodeRows, ROWS_A_GROUP, writeParquet } from './write-parquet.ts';

const encoder = new TextEncoder();

/**
 * Writes a table piece by piece: CSV (RFC 4180, UTF-8, every digit of a number, a leading apostrophe before what a
 * spreadsheet would take for a formula), one JSON object a line, or Parquet in row groups. Read again it gives the same records.
 */
export async function* writeTable(
  kind: TableKind,
  pieces: AsyncIterable<TableRecord[]> | Iterable<TableRecord[]>,
  format: TableFormat,
): AsyncGenerator<Uint8Array> {
  const names = columnsOf(kind).map((c) => c.name);
  if (format === 'parquet') {
    yield* writeParquet(kind, rowGroups(pieces), (records, start) => encodeRows(kind, records, start));
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

/** Pieces put together, or cut, to what is encoded at a time. */
export async function* rowGroups(
  pieces: AsyncIterable<TableRecord[]> | Iterable<TableRecord[]>,
): AsyncGenerator<TableRecord[]> {
  let group: TableRecord[] = [];
  for await (const piece of pieces) {
    for (const record of piece) {
      group.push(record);
      if (group.length < ROWS_A_GROUP) continue;
      yield group;
      group = [];
    }
  }
  if (group.length > 0) yield group;
}
