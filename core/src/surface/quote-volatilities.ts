import { impliedVolatilityInto, type Side } from '../pricing/index.ts';
import { sideQuotes } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

/** Implied volatilities per strike of one side; NaN where the price has none. */
export interface QuoteVolatilities {
  bid: Float64Array;
  mid: Float64Array;
  ask: Float64Array;
}

/** Options of one expiry, with what they are valued on. */
export interface ExpiryOptions {
  /** 1 for a call, 0 for a put */
  isCall: Uint8Array;
  strikes: Float64Array;
  timeToExpiry: number;
  forward: number;
  discountFactor: number;
}

/** Black volatilities of prices, one an option; NaN where a price has none, or only 0. */
export function priceVolatilities(price: Float64Array, o: ExpiryOptions): Float64Array {
  const constant = (value: number) => new Float64Array(price.length).fill(value);
  const out = new Float64Array(price.length);
  impliedVolatilityInto(out, new Uint8Array(price.length), {
    isCall: o.isCall,
    forward: constant(o.forward),
    strike: o.strikes,
    timeToExpiry: constant(o.timeToExpiry),
    discountFactor: constant(o.discountFactor),
    price,
  });
  for (let i = 0; i < out.length; i++) if (!(out[i] > 0)) out[i] = NaN;
  return out;
}

/** Black volatilities of bid, mid and ask of one side on the expiry's forward. */
export function quoteVolatilities(
  slice: Slice,
  side: Side,
  { forward, discountFactor }: { forward: number; discountFactor: number },
): QuoteVolatilities {
  const { strikes, timeToExpiry } = slice;
  const { bid, ask } = sideQuotes(slice, side);
  const isCall = new Uint8Array(strikes.length).fill(side === 'call' ? 1 : 0);
  const options = { isCall, strikes, timeToExpiry, forward, discountFactor };
  const of = (price: Float64Array) => priceVolatilities(price, options);
  return { bid: of(bid), mid: of(bid.map((b, i) => 0.5 * (b + ask[i]))), ask: of(ask) };
}
