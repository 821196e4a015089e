import { type Accuracy, schemeOf } from './american-levels.ts';
import { type SolvedPut, solvePut, spectralValue } from './american-spectral.ts';
import { bachelierPrice } from './bachelier.ts';
import { blackScholesMertonPrice } from './black-scholes-merton.ts';
import { certainExercise } from './certain.ts';
import { solveFiniteDifferences } from './finite-difference.ts';
import type { GridShape } from './finite-difference-grid.ts';
import type { FiniteDifferenceProblem, FiniteDifferenceResult, GridSize } from './finite-difference-problem.ts';
import { carryYield, checkOption, exerciseValue, type Option } from './option.ts';
import { inUnitsOf, requireValue, scaleOf } from './option-scale.ts';
import { pricingMethod } from './pricing-method.ts';

/**
 * Grids by accuracy. On the 60 contracts of the reference data with cash dividends: fast errs by 9e-6 of the strike at
 * most, default by 3e-6, fine by 8e-7, exact by 3e-7. Draft, for markets made of millions of prices, errs by 2e-4.
 */
export const GRID_SIZES: Record<Accuracy, GridSize> = {
  draft: { space: 20, time: 6 },
  fast: { space: 60, time: 15 },
  default: { space: 100, time: 25 },
  fine: { space: 200, time: 50 },
  exact: { space: 400, time: 100 },
};

/**
 * Price today of any supported option, by the method that {@link pricingMethod} names.
 * With zero time or volatility the limit is returned; prices from 1e-300 to 1e300 keep their relative accuracy. Accuracy concerns American options and cash dividends; closed
 * forms are exact at every level.
 * @param o see {@link Option} for units and ranges
 * @throws RangeError outside the ranges, for a number that is not finite, for a value beyond the double numbers, and for
 *   a deviation over 20 where early exercise or cash dividends matter
 * @see Andersen, L., Lake, M. & Offengenden, D. (2016). High-performance American option pricing. Journal of
 *   Computational Finance 20(1), 39-87.
 * @example optionPrice({ side: 'put', exercise: 'american', model: 'spot', underlying: 36, strike: 40, timeToExpiry: 1, rate: 0.06, volatility: 0.2 }, 'exact') // 4.4867
 */
export function optionPrice(o: Option, accuracy: Accuracy = 'default'): number {
  checkOption(o);
  const scale = scaleOf(o);
  return requireValue(scale * priceInUnits(inUnitsOf(o, scale), accuracy));
}

/** Price of an option whose numbers are of ordinary size. Unchecked. */
function priceInUnits(o: Option, accuracy: Accuracy): number {
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
  return spectralValue(solved, o.side === 'put', o.underlying, o.strike);
}

export function finiteDifferenceProblem(o: Option): FiniteDifferenceProblem {
  return {
    isCall: o.side === 'call',
    isAmerican: o.exercise === 'american',
    isNormal: o.model === 'normal',
    isFuture: o.model === 'futures',
    spot: o.underlying,
    strike: o.strike,
    timeToExpiry: o.timeToExpiry,
    rate: o.rate,
    dividendYield: o.model === 'normal' ? 0 : carryYield(o),
    volatility: o.volatility,
    dividends: o.dividends ?? [],
  };
}

/** Within this share of the strike of its exercise value an option is near its boundary. */
const NEAR_BOUNDARY = 1e-4;

/**
 * Solution on the grid of a level, or on one twice as fine next to the exercise boundary, where the value bends within a
 * step of the grid. Greeks by small moves take the size along, so that both sides of a move have the same error.
 */
export function solveOnGrid(
  o: Option,
  accuracy: Accuracy,
  shape?: GridShape,
): { size: GridSize; solution: FiniteDifferenceResult } {
  const size = GRID_SIZES[accuracy];
  const problem = finiteDifferenceProblem(o);
  const solution = solveFiniteDifferences(problem, size, shape);
  const finer = finerNextToBoundary(o, accuracy, solution.price);
  return finer ? { size: finer, solution: solveFiniteDifferences(problem, finer, shape) } : { size, solution };
}

/** Grid twice as fine for an option whose price tells that it is next to its exercise boundary; undefined elsewhere. */
export function finerNextToBoundary(o: Option, accuracy: Accuracy, price: number): GridSize | undefined {
  const intrinsic = exerciseValue(o);
  const scale = o.model === 'normal' ? o.volatility * Math.sqrt(o.timeToExpiry) : o.strike;
  // A draft is off by more than the exercise boundary's neighborhood adds.
  const isNear =
    accuracy !== 'draft' && o.exercise === 'american' && intrinsic > 0 && price <= intrinsic + NEAR_BOUNDARY * scale;
  if (!isNear) return undefined;
  const size = GRID_SIZES[accuracy];
  return { space: 2 * size.space, time: 2 * size.time };
}

function finiteDifferencePrice(o: Option, accuracy: Accuracy): number {
  const { price } = solveOnGrid(o, accuracy).solution;
  return Math.max(price, o.exercise === 'american' ? exerciseValue(o) : 0);
}
