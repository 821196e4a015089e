import { impliedVolatility, type Side } from '@umwelt/core/pricing';
import type { Law } from './law.ts';

/**
 * The law that prices options so.
 * @param price of an option out of the money on a forward of 1, not discounted
 * @throws RangeError where a price has no volatility
 */
export function lawOfPrices(price: (side: Side, strike: number, timeToExpiry: number) => number): Law {
  return {
    volatility(logMoneyness, timeToExpiry) {
      const strike = Math.exp(logMoneyness);
      const side = logMoneyness < 0 ? 'put' : 'call';
      const value = price(side, strike, timeToExpiry);
      const implied = impliedVolatility({ side, forward: 1, strike, timeToExpiry, discountFactor: 1, price: value });
      if (!implied.ok) throw new RangeError(`the law has no volatility at ${logMoneyness}, ${timeToExpiry}: ${value}`);
      return implied.volatility;
    },
  };
}
