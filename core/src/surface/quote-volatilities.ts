import { impliedVolatility, type Side } from '../pricing/index.ts';
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
  const volatilityOf = (price: number, i: number): number => {
    const result = impliedVolatility({
      side,
      forward: o.forward,
      strike: slice.strikes[i],
      timeToExpiry: slice.timeToExpiry,
      discountFactor: o.discountFactor,
      price,
    });
    return result.ok && result.volatility > 0 ? result.volatility : NaN;
  };
  return {
    bid: bid.map((b, i) => (b > 0 ? volatilityOf(b, i) : NaN)),
    mid: bid.map((b, i) => volatilityOf(0.5 * (b + ask[i]), i)),
    ask: ask.map(volatilityOf),
  };
}
