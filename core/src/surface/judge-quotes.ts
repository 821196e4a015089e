import type { Side } from '../pricing/index.ts';
import type { Slice } from './slice.ts';

/** Wrong as data: the quote contradicts itself or its neighbours. */
export type QuoteFault = 'crossed' | 'no-ask' | 'stale';
/** Right as data but of no use to a volatility fit. */
export type QuoteUnfit = 'no-bid' | 'below-intrinsic' | 'too-wide';
/** Why a quote is kept out of the fit. */
export type QuoteReason = QuoteFault | QuoteUnfit;

/** Whether the reason is a fault of the quote, as against a quote that is merely not fitted. */
export function isFault(reason: QuoteReason): reason is QuoteFault {
  return reason === 'crossed' || reason === 'no-ask' || reason === 'stale';
}

/** One verdict per strike and side; undefined means the quote is good. */
export interface Verdicts {
  call: (QuoteReason | undefined)[];
  put: (QuoteReason | undefined)[];
}

/**
 * Verdict on one quote by itself: `no-ask`, `crossed`, `no-bid`, `too-wide` (spread wider than its mid), or undefined.
 * A missing quote (both sides NaN) is `no-ask`'s milder kin `no-bid`: nothing was quoted, so nothing is wrong.
 */
export function judgeAlone(bid: number, ask: number): QuoteReason | undefined {
  const hasBid = bid > 0;
  const hasAsk = ask > 0;
  if (!hasAsk) return hasBid || ask <= 0 ? 'no-ask' : 'no-bid';
  if (bid > ask) return 'crossed';
  if (!hasBid) return 'no-bid';
  if (ask - bid > 0.5 * (ask + bid)) return 'too-wide';
  return undefined;
}

/** Verdicts on every quote of a slice by itself; see {@link judgeAlone}. */
export function judgeSlice(slice: Slice): Verdicts {
  const judge = (bid: Float64Array, ask: Float64Array) => Array.from(bid, (b, i) => judgeAlone(b, ask[i]));
  return { call: judge(slice.callBid, slice.callAsk), put: judge(slice.putBid, slice.putAsk) };
}

/** Bid and ask columns of one side. */
export function sideQuotes(slice: Slice, side: Side): { bid: Float64Array; ask: Float64Array } {
  return side === 'call' ? { bid: slice.callBid, ask: slice.callAsk } : { bid: slice.putBid, ask: slice.putAsk };
}
