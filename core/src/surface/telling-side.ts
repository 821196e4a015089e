import type { Side } from '../pricing/index.ts';
import type { Slice } from './slice.ts';

/** What early exercise adds to each strike's call and put. */
export type PremiumColumns = Record<Side, Float64Array>;

/** Share of the forward that no market is narrower than, when a premium is held against its width. */
const LEAST_WIDTH = 6e-5;

/**
 * The side of a strike whose quote tells its volatility: the one out of the money on the forward, unless a premium wider than its
 * market has been taken off either; then that whose premium is the smaller share of its width. With a high cost to borrow
 * the side out of the money is worth its exercise value between forward and spot, and tells nothing.
 */
export function tellingSide(slice: Slice, i: number, forward: number, premium?: PremiumColumns): Side {
  const outside = slice.strikes[i] >= forward ? 'call' : 'put';
  if (!premium) return outside;
  const width = (bid: Float64Array, ask: Float64Array) => Math.max(ask[i] - bid[i] || 0, LEAST_WIDTH * forward);
  const call = premium.call[i] / width(slice.callBid, slice.callAsk);
  const put = premium.put[i] / width(slice.putBid, slice.putAsk);
  if (!(Math.max(call, put) > 1)) return outside;
  return call < put ? 'call' : 'put';
}
