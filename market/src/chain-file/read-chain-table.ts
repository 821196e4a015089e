import { type FileSource, readTableRows } from '../table-file/index.ts';
import { CHAIN_FIELDS, type ChainField } from '../chain-format/index.ts';
import type { FileLimits } from '../file-limits/index.ts';
import type { TableFormat, TableRecord } from '../table-format/index.ts';
import { parseSide } from './parse-values.ts';
import type { ChainRow, RowProblem } from './read-chain.ts';

/**
 * Reads a chain from a format whose columns need no recognising, as it is exported: JSON lines or Parquet.
 * @throws LimitExceeded
 */
export async function* readChainTable(
  source: FileSource,
  format: Exclude<TableFormat, 'csv'>,
  o: { zone: string; limits: FileLimits },
): AsyncGenerator<ChainRow | RowProblem> {
  for await (const read of readTableRows('chains', source, format, o)) {
    if ('record' in read) yield chainRow(read.record, read.row);
    else {
      for (const { row, column, value, remedy } of read.problems)
        yield { line: row, field: fieldOf(column), value, code: 'bad-cell', remedy: `${column} ${remedy}`.trim() };
    }
  }
}

function chainRow(record: TableRecord, line: number): ChainRow | RowProblem {
  const number = (name: string) => (record[name] === null ? NaN : Number(record[name]));
  const instant = (name: string) => Date.parse(String(record[name]));
  const side = parseSide(String(record.side));
  if (!side) {
    const value = String(record.side).slice(0, 80);
    return { line, field: 'side', value, code: 'not-a-side', remedy: 'write call or put (C or P)' };
  }
  const [asOf, expiry] = [instant('as_of'), instant('expiry')];
  if (expiry <= asOf) {
    const remedy = 'the expiry must come after the instant of the quotes';
    return { line, field: 'expiry', value: String(record.expiry), code: 'expired', remedy };
  }
  return {
    line,
    underlying: String(record.underlying).toUpperCase(),
    asOf,
    underlyingPrice: number('underlying_price'),
    expiry,
    side,
    strike: number('strike'),
    bid: number('bid'),
    ask: number('ask'),
    bidSize: number('bid_size'),
    askSize: number('ask_size'),
    last: number('last'),
    volume: number('volume'),
    openInterest: number('open_interest'),
  };
}

function fieldOf(column: string): ChainField | 'row' {
  const camel = column.replace(/_([a-z])/g, (_, letter: string) => letter.toUpperCase());
  return CHAIN_FIELDS.find((f) => f === camel) ?? 'row';
}
