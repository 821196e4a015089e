import type { Slice } from './slice.ts';
import type { PremiumColumns } from './telling-side.ts';

/** The quotes less the premiums; a missing bid stays missing, a zero bid stays zero. */
export function freedSlice(slice: Slice, premium: PremiumColumns): Slice {
  const rest = (quotes: Float64Array, taken: Float64Array) => {
    const out = new Float64Array(quotes.length);
    for (let i = 0; i < out.length; i++) out[i] = quotes[i] > 0 ? quotes[i] - taken[i] : quotes[i];
    return out;
  };
  return {
    ...slice,
    callBid: rest(slice.callBid, premium.call),
    callAsk: rest(slice.callAsk, premium.call),
    putBid: rest(slice.putBid, premium.put),
    putAsk: rest(slice.putAsk, premium.put),
  };
}
