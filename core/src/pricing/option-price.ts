import { type Accuracy, schemeOf } from './american-levels.ts';
import { type SolvedPut, solvePut, unitPutAt } from './american-spectral.ts';
import { bachelierPrice } from './bachelier.ts';
import { blackScholesMertonPrice } from './black-scholes-merton.ts';
import { certainExercise } from './certain.ts';
import { type FiniteDifferenceProblem, type GridSize, solveFiniteDifferences } from './finite-difference.ts';
import { carryYield, checkOption, exerciseValue, type Option } from './option.ts';
import { pricingMethod } from './pricing-method.ts';

/**
 * Grids by accuracy. On the 60 contracts of the reference data with cash dividends: fast errs by 9e-6 of the strike at
 * most, default by 3e-6, fine by 8e-7, exact by 3e-7.
 */
export const GRID_SIZES: Record<Accuracy, GridSize> = {
  fast: { space: 60, time: 15 },
  default: { space: 100, time: 25 },
  fine: { space: 200, time: 50 },
  exact: { space: 400, time: 100 },
};

/**
 * Price today of any supported option, by the method that {@link pricingMethod} names.
 * With zero time or volatility the limit is returned. Accuracy concerns American options and cash dividends; closed
 * forms are exact at every level.
 * @param o see {@link Option} for units and ranges
 * @throws RangeError outside the ranges, or for a number that is not finite
 * @see Andersen, L., Lake, M. & Offengenden, D. (2016). High-performance American option pricing. Journal of
 *   Computational Finance 20(1), 39-87.
 * @example optionPrice({ side: 'put', exercise: 'american', model: 'spot', underlying: 36, strike: 40, timeToExpiry: 1, rate: 0.06, volatility: 0.2 }, 'exact') // 4.4867
 */
export function optionPrice(o: Option, accuracy: Accuracy = 'default'): number {
  checkOption(o);
  switch (pricingMethod(o).method) {
    case 'certain':
      return certainExercise(o).price;
    case 'closed-form':
      return closedFormPrice(o);
    case 'spectral-collocation': {
      const solved = solveOption(o, accuracy);
      return solved ? spectralPrice(o, solved) : finiteDifferencePrice(o, accuracy);
    }
    case 'finite-difference':
      return finiteDifferencePrice(o, accuracy);
  }
}

/** European value, ignoring early exercise. Unchecked; no cash dividends. */
export function closedFormPrice(o: Option): number {
  const { side, strike, timeToExpiry, rate, volatility } = o;
  if (o.model === 'normal') {
    return bachelierPrice({ side, forward: o.underlying, strike, timeToExpiry, rate, normalVolatility: volatility });
  }
  return blackScholesMertonPrice({
    side,
    spot: o.underlying,
    strike,
    timeToExpiry,
    rate,
    dividendYield: carryYield(o),
    volatility,
  });
}

/** Boundary of the equivalent unit put; undefined when the collocation cannot hold the numbers. */
export function solveOption(o: Option, accuracy: Accuracy): SolvedPut | undefined {
  const carry = carryYield(o);
  const isPut = o.side === 'put';
  return solvePut(schemeOf(accuracy), {
    rate: isPut ? o.rate : carry,
    dividendYield: isPut ? carry : o.rate,
    volatility: o.volatility,
    timeToExpiry: o.timeToExpiry,
  });
}

/** Price from a solved boundary. */
export function spectralPrice(o: Option, solved: SolvedPut): number {
  const [numerator, denominator] = o.side === 'put' ? [o.underlying, o.strike] : [o.strike, o.underlying];
  return denominator * unitPutAt(solved, numerator / denominator, false).value;
}

export function finiteDifferenceProblem(o: Option): FiniteDifferenceProblem {
  return {
    isCall: o.side === 'call',
    isAmerican: o.exercise === 'american',
    isNormal: o.model === 'normal',
    spot: o.underlying,
    strike: o.strike,
    timeToExpiry: o.timeToExpiry,
    rate: o.rate,
    dividendYield: o.model === 'normal' ? 0 : carryYield(o),
    volatility: o.volatility,
    dividends: o.dividends ?? [],
  };
}

function finiteDifferencePrice(o: Option, accuracy: Accuracy): number {
  const { price } = solveFiniteDifferences(finiteDifferenceProblem(o), GRID_SIZES[accuracy]);
  return Math.max(price, o.exercise === 'american' ? exerciseValue(o) : 0);
}
