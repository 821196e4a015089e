import type { RowProblem } from '@umwelt/market/chain-file';
import { CHAIN_FIELDS, type ChainField } from '@umwelt/market/chain-format';
import { readTable, tableFormatOf, writeTable } from '@umwelt/market/table-file';
import { VELDMAR_ZONE } from '@umwelt/market/zone';

/** JSON lines and Parquet are held in memory as a whole; CSV is not. */
const MOST_BYTES = 1 << 27;

/**
 * The chain file as CSV, whatever it is: CSV passes through as it streams; JSON lines and Parquet, whose columns need no
 * recognising, are read and written anew.
 */
export async function asCsv(
  source: AsyncIterable<Uint8Array>,
): Promise<{ ok: true; csv: AsyncIterable<Uint8Array> } | { ok: false; problems: RowProblem[] }> {
  const iterator = source[Symbol.asyncIterator]();
  const first = await iterator.next();
  async function* rest() {
    if (first.done) return;
    yield first.value;
    for (let next = await iterator.next(); !next.done; next = await iterator.next()) yield next.value;
  }
  if (first.done || tableFormatOf(first.value) === 'csv') return { ok: true, csv: rest() };
  const pieces: Uint8Array[] = [];
  let size = 0;
  for await (const piece of rest()) {
    size += piece.length;
    if (size > MOST_BYTES) {
      const remedy = `at most ${MOST_BYTES / 1024 / 1024} MB of JSON lines or Parquet; send more as CSV`;
      return { ok: false, problems: [{ line: 0, field: 'row', value: '', code: 'bad-cell', remedy }] };
    }
    pieces.push(piece);
  }
  const read = await readTable('chains', Buffer.concat(pieces), { zone: VELDMAR_ZONE });
  if (read.ok) return { ok: true, csv: writeTable('chains', [read.records], 'csv') };
  const problems = read.problems.map(({ row, column, value, remedy }): RowProblem => ({
    line: row,
    field: fieldOf(column),
    value,
    code: 'bad-cell',
    remedy: `${column} ${remedy}`.trim(),
  }));
  return { ok: false, problems };
}

function fieldOf(column: string): ChainField | 'row' {
  const camel = column.replace(/_([a-z])/g, (_, letter: string) => letter.toUpperCase());
  return CHAIN_FIELDS.find((f) => f === camel) ?? 'row';
}
