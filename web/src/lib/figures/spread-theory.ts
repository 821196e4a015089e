import type { ExpiryPicture, Picture } from '../schema/picture.ts';
import type { TradedLegText } from '../schema/traded.ts';
import type { EarlyExercise } from './early-exercise.ts';
import { theoryPrice } from './chain-rows.ts';
import { theoryVolatility, type VolatilityInForce } from './volatility-in-force.ts';

/** Theoretical value of one unit of a combination under the volatility source in force; null when a leg has none. */
export function spreadTheory(
  picture: Picture,
  legs: readonly TradedLegText[],
  { inForce, earlyExercise }: { inForce: VolatilityInForce; earlyExercise: (expiry: ExpiryPicture) => EarlyExercise },
): number | null {
  let sum = 0;
  for (const leg of legs) {
    const expiry = picture.expiries.find((e) => e.date === leg.expiry);
    if (!expiry?.strikes.includes(leg.strike)) return null;
    const volatility = theoryVolatility(expiry, leg, inForce);
    if (volatility === null) return null;
    sum += leg.ratio * theoryPrice(expiry, { side: leg.side, strike: leg.strike, volatility }, earlyExercise(expiry));
  }
  return sum;
}
