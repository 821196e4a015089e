import { schemeOf } from './american-levels.ts';
import { solvePut, unitPutPremiumBySpot } from './american-spectral.ts';
import { solvePremium } from './finite-difference.ts';
import { carryYield, checkOption, type Option } from './option.ts';
import { closedFormPrice, finiteDifferenceProblem, optionPrice } from './option-price.ts';
import { pricingMethod } from './pricing-method.ts';

/** Grids by what the premium is for: how it changes, to work with, to rely on. */
const GRIDS = {
  slope: { space: 36, time: 8, leastSteps: 3 },
  work: { space: 44, time: 10, leastSteps: 4 },
  final: { space: 72, time: 12, leastSteps: 4 },
} as const;
export type PremiumUse = keyof typeof GRIDS;

/**
 * What early exercise of an option is worth at any price of the underlying: one exercise boundary, or one grid, serves
 * all of them.
 * @param o its `exercise` is not read, its `underlying` only to choose the method
 * @param use grids differ by it; boundaries serve both
 * @returns premium by price of the underlying; its value errs by about 1e-5 of the strike
 * @throws RangeError as {@link optionPrice}
 */
export function premiumBySpot(o: Option, use: PremiumUse = 'final'): (underlying: number) => number {
  const american: Option = { ...o, exercise: 'american' };
  checkOption(american);
  const { method } = pricingMethod(american);
  if (method === 'finite-difference') return solvePremium(finiteDifferenceProblem(american), GRIDS[use]);
  if (method === 'closed-form') return () => 0;
  const carry = carryYield(o);
  const isPut = o.side === 'put';
  const { volatility, timeToExpiry, strike } = o;
  const solved =
    method === 'spectral-collocation'
      ? solvePut(schemeOf('fast'), {
          rate: isPut ? o.rate : carry,
          dividendYield: isPut ? carry : o.rate,
          volatility,
          timeToExpiry,
        })
      : undefined;
  if (solved) {
    const premium = unitPutPremiumBySpot(solved);
    if (isPut) return (underlying) => strike * premium(underlying / strike);
    return (underlying) => underlying * premium(strike / underlying);
  }
  return (underlying) => {
    const at = { ...american, underlying };
    return Math.max(0, optionPrice(at, 'fast') - closedFormPrice(at));
  };
}
