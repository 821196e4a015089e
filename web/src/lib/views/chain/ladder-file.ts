import type { ChainRow } from '../../api/chain-row.ts';
import type { ExpiryPicture, Picture } from '../../api/picture.ts';
import type { ShownTable } from '../../ui/shown-table.ts';
import type { ChainColumnId } from './chain-columns.ts';

type Field = keyof ChainRow;

/** What stands in every file: the quote, its volatilities, and how theory came about. */
const ALWAYS: readonly Field[] = [
  ...(['bid', 'ask', 'bidVolatility', 'midVolatility', 'askVolatility', 'openInterest', 'volume', 'verdict'] as const),
  ...(['theory', 'theoryVolatility', 'method', 'level'] as const),
];
/** Fields behind a column that shows more than one. */
const BEHIND: Partial<Record<ChainColumnId, readonly Field[]>> = {
  standing: ['verdict', 'standing', 'gap', 'gapVolatility'],
  market: ['bidVolatility', 'midVolatility', 'askVolatility', 'fitVolatility'],
};

/**
 * The ladder as values: each column under the name that the API gives it, in the API's units (Greeks per unit of underlying) and to
 * the last digit, with what tells the rows of one file from those of another.
 */
export function ladderFile(
  { underlying, asOf }: Pick<Picture, 'underlying' | 'asOf'>,
  { date }: Pick<ExpiryPicture, 'date'>,
  rows: readonly ChainRow[],
  columns: readonly ChainColumnId[],
): ShownTable {
  const shown = columns.flatMap((column): readonly Field[] => BEHIND[column] ?? [column as Field]);
  const fields = [...new Set([...ALWAYS, ...shown])];
  const { symbol, currency, multiplier } = underlying;
  return {
    header: ['symbol', 'currency', 'multiplier', 'asOf', 'expiry', 'strike', 'side', ...fields],
    rows: rows.map((row) => [
      ...[symbol, currency, multiplier, asOf, date, row.strike, row.side],
      ...fields.map((field) => row[field]),
    ]),
  };
}
