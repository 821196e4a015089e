import { stringify } from 'csv-stringify/sync';
import type { ChainFileFormat } from '../chain-format/index.ts';
import { formatOptionSymbol } from '../option-symbol/index.ts';
import { isoInZone } from '../zone/index.ts';
import type { ChainRow } from './read-chain.ts';

/** One quote to be written; NaN stands for a value that is not there. */
export type WrittenQuote = Omit<ChainRow, 'line'>;

const COLUMNS = [
  'underlying',
  'as_of',
  'underlying_price',
  'expiry',
  'side',
  'strike',
  'bid',
  'ask',
  'last',
  'volume',
  'open_interest',
  'option_symbol',
] as const;

/**
 * Writes a chain file piece by piece: UTF-8, decimal points, instants as ISO 8601 with the zone's offset, empty (null in
 * JSON) where a value is not there, numbers with every digit. Read again it gives the same quotes.
 * @param slices quotes of one expiry each, which are written together
 * @param zone of the instants, an IANA name or an offset
 */
export async function* writeChain(
  slices: AsyncIterable<WrittenQuote[]> | Iterable<WrittenQuote[]>,
  o: { format: ChainFileFormat; zone: string },
): AsyncGenerator<string> {
  if (o.format === 'csv') yield `${COLUMNS.join(',')}\n`;
  for await (const quotes of slices) {
    const records = quotes.map((quote) => recordOf(quote, o.zone));
    yield o.format === 'csv'
      ? stringify(records, { columns: [...COLUMNS], escape_formulas: true })
      : records.map((record) => `${JSON.stringify(record)}\n`).join('');
  }
}

function recordOf(quote: WrittenQuote, zone: string): Record<(typeof COLUMNS)[number], string | number | null> {
  const number = (value: number) => (Number.isNaN(value) ? null : value);
  const expiry = isoInZone(quote.expiry, zone);
  return {
    underlying: quote.underlying,
    as_of: isoInZone(quote.asOf, zone),
    underlying_price: quote.underlyingPrice,
    expiry,
    side: quote.side,
    strike: quote.strike,
    bid: number(quote.bid),
    ask: number(quote.ask),
    last: number(quote.last),
    volume: number(quote.volume),
    open_interest: number(quote.openInterest),
    option_symbol: symbolOf(quote, expiry.slice(0, 10)),
  };
}

/** Null where the symbology has no room for the underlying or the strike. */
function symbolOf({ underlying, side, strike }: WrittenQuote, expiry: string): string | null {
  try {
    return formatOptionSymbol({ root: underlying, expiry, side, strike });
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}
