import type { WrittenQuote } from '@umwelt/market/chain-file';
import type { StoredSlice } from '../repositories/slices.ts';

/** The quotes of a slice as a chain file holds them. */
export function quotesOf(underlying: string, slice: StoredSlice): WrittenQuote[] {
  return Array.from(slice.strikes).flatMap((strike, i) =>
    (['call', 'put'] as const).map((side) => ({
      underlying,
      asOf: slice.instant.getTime(),
      underlyingPrice: slice.underlyingPrice,
      expiry: slice.expiry.getTime(),
      side,
      strike,
      bid: slice[`${side}Bid`][i],
      ask: slice[`${side}Ask`][i],
      bidSize: slice[`${side}BidSize`][i],
      askSize: slice[`${side}AskSize`][i],
      last: slice[`${side}Last`][i],
      volume: slice[`${side}Volume`][i],
      openInterest: slice[`${side}OpenInterest`][i],
      quotedIn: slice.isQuotedInVolatility ? ('volatility' as const) : ('price' as const),
      priceSource: slice.isPriceImplied ? ('parity' as const) : ('quote' as const),
    })),
  );
}
