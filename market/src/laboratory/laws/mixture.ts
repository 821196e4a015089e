import { black76Price } from '@umwelt/core/pricing';
import type { Law } from './law.ts';
import { lawOfPrices } from './law-of-prices.ts';

/** One of the lognormals of a mixture. */
export interface MixturePart {
  weight: number;
  /** Of the forward in this part, as a share of the forward */
  forward: number;
  /** Per year */
  volatility: number;
}

/**
 * One lognormal or another, as before an event that goes either way.
 * @param parts weights add up to 1, and so do weights times forwards
 * @throws RangeError where they do not
 * @see Brigo, D. & Mercurio, F. (2002). Lognormal-mixture dynamics and calibration to market volatility smiles. International
 *   Journal of Theoretical and Applied Finance 5(4), 427-446.
 */
export function mixture(parts: readonly MixturePart[]): Law {
  const sum = (of: (part: MixturePart) => number) => parts.reduce((total, part) => total + of(part), 0);
  if (Math.abs(sum((p) => p.weight) - 1) > 1e-12 || Math.abs(sum((p) => p.weight * p.forward) - 1) > 1e-12) {
    throw new RangeError('weights must add up to 1, with and without the forwards');
  }
  return lawOfPrices((side, strike, timeToExpiry) =>
    sum(
      ({ weight, forward, volatility }) =>
        weight * black76Price({ side, forward, strike, timeToExpiry, volatility, discountFactor: 1 }),
    ),
  );
}
