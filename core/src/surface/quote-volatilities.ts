import { impliedVolatilityInto, type Side } from '../pricing/index.ts';
import { sideQuotes } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

/** Implied volatilities per strike of one side; NaN where the price has none. */
export interface QuoteVolatilities {
  bid: Float64Array;
  mid: Float64Array;
  ask: Float64Array;
}

/** Black volatilities of bid, mid and ask of one side on the expiry's forward. */
export function quoteVolatilities(
  slice: Slice,
  side: Side,
  o: { forward: number; discountFactor: number },
): QuoteVolatilities {
  const { bid, ask } = sideQuotes(slice, side);
  const count = bid.length;
  const constant = (value: number) => new Float64Array(count).fill(value);
  const common = {
    isCall: new Uint8Array(count).fill(side === 'call' ? 1 : 0),
    forward: constant(o.forward),
    strike: slice.strikes,
    timeToExpiry: constant(slice.timeToExpiry),
    discountFactor: constant(o.discountFactor),
  };
  const status = new Uint8Array(count);
  const volatilitiesOf = (price: Float64Array): Float64Array => {
    const out = new Float64Array(count);
    impliedVolatilityInto(out, status, { ...common, price });
    return out.map((v) => (v > 0 ? v : NaN));
  };
  return {
    bid: volatilitiesOf(bid.map((b) => (b > 0 ? b : NaN))),
    mid: volatilitiesOf(bid.map((b, i) => 0.5 * (b + ask[i]))),
    ask: volatilitiesOf(ask),
  };
}
