import { impliedVolatilityInto, type Side } from '../pricing/index.ts';
import { sideQuotes } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

/** Implied volatilities per strike of one side; NaN where the price has none. */
export interface QuoteVolatilities {
  bid: Float64Array;
  mid: Float64Array;
  ask: Float64Array;
}

/** Black volatilities of bid, mid and ask of one side, or of each strike's own, on the expiry's forward. */
export function quoteVolatilities(
  slice: Slice,
  side: Side | readonly Side[],
  o: { forward: number; discountFactor: number },
): QuoteVolatilities {
  const { strikes } = slice;
  const count = strikes.length;
  const constant = (value: number) => new Float64Array(count).fill(value);
  const bid = new Float64Array(count);
  const mid = new Float64Array(count);
  const ask = new Float64Array(count);
  const isCall = new Uint8Array(count);
  for (let i = 0; i < count; i++) {
    const quotes = sideQuotes(slice, typeof side === 'string' ? side : side[i]);
    isCall[i] = (typeof side === 'string' ? side : side[i]) === 'call' ? 1 : 0;
    bid[i] = quotes.bid[i] > 0 ? quotes.bid[i] : NaN;
    mid[i] = 0.5 * (quotes.bid[i] + quotes.ask[i]);
    ask[i] = quotes.ask[i];
  }
  const common = {
    isCall,
    forward: constant(o.forward),
    strike: strikes,
    timeToExpiry: constant(slice.timeToExpiry),
    discountFactor: constant(o.discountFactor),
  };
  const status = new Uint8Array(count);
  const volatilitiesOf = (price: Float64Array): Float64Array => {
    const out = new Float64Array(count);
    impliedVolatilityInto(out, status, { ...common, price });
    for (let i = 0; i < count; i++) if (!(out[i] > 0)) out[i] = NaN;
    return out;
  };
  return { bid: volatilitiesOf(bid), mid: volatilitiesOf(mid), ask: volatilitiesOf(ask) };
}
