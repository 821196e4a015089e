import type { AsOfContext } from '../schema/as-of-context.ts';
import type { Picture } from '../schema/picture.ts';
import type { TradedLegText } from '../schema/traded.ts';
import { theoryPrice, theoryVolatility } from './chain-rows.ts';

/** Theoretical value of one unit of a combination under the volatility source in force; null when a leg has none. */
export function spreadTheory(
  picture: Picture,
  legs: readonly TradedLegText[],
  source: AsOfContext['volatilitySource'],
): number | null {
  let sum = 0;
  for (const leg of legs) {
    const expiry = picture.expiries.find((e) => e.date === leg.expiry);
    const index = expiry?.strikes.indexOf(leg.strike) ?? -1;
    if (!expiry || index < 0) return null;
    const volatility = theoryVolatility(expiry, leg.side, index, source);
    if (volatility === null) return null;
    sum += leg.ratio * theoryPrice(expiry, { side: leg.side, strike: leg.strike, volatility });
  }
  return sum;
}
