import { formatOptionSymbol } from '../option-symbol/index.ts';
import { type EncodedRows, encodeRows, writeTable } from '../table-file/index.ts';
import type { TableFormat, TableRecord } from '../table-format/index.ts';
import { isoInZone } from '../zone/index.ts';
import type { ChainRow } from './read-chain.ts';

/** One quote to be written; NaN stands for a value that is not there. */
export type WrittenQuote = Omit<ChainRow, 'line' | 'volatility' | 'bidVolatility' | 'askVolatility'>;

/** Terms of the contracts, so that whoever reads the file need not guess them. */
export interface WrittenTerms {
  kind: string;
  exercise: string;
  multiplier: number;
  currency: string;
}

/**
 * Writes a chain file piece by piece, instants with the zone's offset, each quote with its symbol in the open 21-character
 * symbology. Read again it gives the same quotes.
 * @param slices quotes of one expiry each, which are written together
 * @param o.zone of the instants, an IANA name or an offset
 */
export function writeChain(
  slices: AsyncIterable<WrittenQuote[]> | Iterable<WrittenQuote[]>,
  o: { format: TableFormat; zone: string; terms?: WrittenTerms },
): AsyncGenerator<Uint8Array> {
  async function* records() {
    for await (const quotes of slices) yield quotes.map((quote) => recordOf(quote, o));
  }
  return writeTable('chains', records(), o.format);
}

/** Quotes as one row group of a chain's Parquet file, at its place there in bytes: for a thread apart. */
export function encodeQuotes(
  quotes: WrittenQuote[],
  o: { zone: string; terms?: WrittenTerms; start: number },
): EncodedRows {
  return encodeRows(
    'chains',
    quotes.map((quote) => recordOf(quote, o)),
    o.start,
  );
}

function recordOf(quote: WrittenQuote, { zone, terms }: { zone: string; terms?: WrittenTerms }): TableRecord {
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
    bid_size: number(quote.bidSize),
    ask_size: number(quote.askSize),
    last: number(quote.last),
    volume: number(quote.volume),
    open_interest: number(quote.openInterest),
    option_symbol: symbolOf(quote, expiry.slice(0, 10)),
    quoted_in: quote.quotedIn,
    underlying_price_source: quote.priceSource,
    underlying_kind: terms?.kind ?? null,
    exercise_style: terms?.exercise ?? null,
    multiplier: terms?.multiplier ?? null,
    currency: terms?.currency ?? null,
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
