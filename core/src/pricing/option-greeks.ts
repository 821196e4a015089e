import type { Accuracy } from './american-levels.ts';
import {
  isExercisedAt,
  isNearBoundary,
  nearbyPut,
  type SolvedPut,
  solvePut,
  type UnitPut,
  unitPutAt,
} from './american-spectral.ts';
import { bachelierGreeks } from './bachelier.ts';
import { black76Greeks } from './black76.ts';
import { blackScholesMertonGreeks } from './black-scholes-merton.ts';
import { certainExercise } from './certain.ts';
import { solveFiniteDifferences } from './finite-difference.ts';
import { gridShapeOf } from './finite-difference-grid.ts';
import type { FiniteDifferenceResult } from './finite-difference-problem.ts';
import type { Greeks } from './greeks.ts';
import { carryYield, checkOption, exerciseValue, hasCashDividends, type Option } from './option.ts';
import { finiteDifferenceProblem, solveOnGrid, solveOption, spectralPrice } from './option-price.ts';
import { fromUnitsOf, inUnitsOf, requireGreeks, scaleOf } from './option-scale.ts';
import { type PricingMethod, pricingMethod } from './pricing-method.ts';

/**
 * Price and all Greeks of any supported option, plain partial derivatives as in {@link Greeks}.
 *
 * Closed forms where they exist. Otherwise delta and gamma come from the method itself, theta, charm and color from the
 * pricing equation (smooth in the continuation region), and derivatives by volatility, rate and yield from the same
 * method in nearby markets. Where the option is to be exercised at once, the boundary included, the values are those of
 * exercise: delta 1 or -1, the others 0; just beyond the boundary gamma is positive, so gamma jumps there.
 * The probability to finish in the money is at expiry, ignoring early exercise.
 * At the strike with no time or volatility left gamma and its kin are infinite, as their limits are.
 * @param o see {@link Option} for units and ranges
 * @throws RangeError as `optionPrice` does
 */
export function optionGreeks(o: Option, accuracy: Accuracy = 'default'): Greeks {
  return valuedOption(o, accuracy).greeks;
}

/** Greeks with the method that gave them. */
export interface ValuedOption {
  greeks: Greeks;
  method: PricingMethod;
  /** Why that method; where the first choice could not serve, why not */
  why: string;
}

/**
 * Greeks together with the method that was used, which is that of {@link pricingMethod} unless its boundary could not be solved.
 * @throws RangeError as {@link optionGreeks}
 */
export function valuedOption(o: Option, accuracy: Accuracy = 'default'): ValuedOption {
  checkOption(o);
  const scale = scaleOf(o);
  const { greeks, ...way } = valuedInUnits(inUnitsOf(o, scale), accuracy);
  return { greeks: requireGreeks(fromUnitsOf(greeks, scale, o.model)), ...way };
}

/** Greeks and method of an option whose numbers are of ordinary size. Unchecked. */
function valuedInUnits(o: Option, accuracy: Accuracy): ValuedOption {
  const { method, why } = pricingMethod(o);
  switch (method) {
    case 'certain':
      return { greeks: certainGreeks(o), method, why };
    case 'closed-form':
      return { greeks: closedFormGreeks(o), method, why };
    case 'spectral-collocation': {
      const solved = solveOption(o, accuracy);
      // Next to the boundary a Greek is as good as the boundary itself.
      const isClose = solved !== undefined && isNearBoundary(solved, unitSpotOf(o));
      const isCoarse = accuracy === 'fast' || accuracy === 'default';
      const served = isClose && isCoarse ? (solveOption(o, 'fine') ?? solved) : solved;
      const greeks = served && spectralGreeks(o, served);
      if (greeks) return { greeks, method, why };
      return { greeks: finiteDifferenceGreeks(o, accuracy), method: 'finite-difference', why: UNSETTLED_BOUNDARY };
    }
    case 'finite-difference':
      return { greeks: finiteDifferenceGreeks(o, accuracy), method, why };
  }
}

/** Why grids take over where collocation was to serve. */
const UNSETTLED_BOUNDARY =
  'The exercise boundary could not be solved here or in a market nearby, as with rates next to 0; grids need none.';

/** Greeks of the European option without cash dividends. Unchecked. */
export function closedFormGreeks(o: Option): Greeks {
  const { side, strike, timeToExpiry, rate, volatility } = o;
  const common = { side, strike, timeToExpiry, rate };
  switch (o.model) {
    case 'spot':
      return blackScholesMertonGreeks({
        ...common,
        spot: o.underlying,
        dividendYield: o.dividendYield ?? 0,
        volatility,
      });
    case 'futures':
      return black76Greeks({ ...common, forward: o.underlying, volatility });
    case 'normal':
      return bachelierGreeks({ ...common, forward: o.underlying, normalVolatility: volatility });
  }
}

/** The option exercised at its known best date; that date may move with the inputs, but moving it gains nothing. */
export function certainGreeks(o: Option): Greeks {
  const { price, time, equivalentSpot } = certainExercise(o);
  const isLast = time === o.timeToExpiry;
  const greeks = closedFormGreeks({
    ...o,
    model: o.model === 'normal' ? 'normal' : 'spot',
    dividendYield: o.model === 'normal' ? 0 : carryYield(o),
    underlying: Math.max(equivalentSpot, o.model === 'normal' ? -Infinity : Number.MIN_VALUE),
    timeToExpiry: time,
    volatility: 0,
    dividends: undefined,
  });
  const isFutures = o.model === 'futures';
  return {
    ...greeks,
    price,
    theta: isLast ? greeks.theta : 0,
    charm: isLast ? greeks.charm : 0,
    rho: isFutures ? greeks.rho + greeks.dividendRho : greeks.rho,
    dividendRho: isFutures ? 0 : greeks.dividendRho,
  };
}

/** Value, delta, gamma and speed at the option's spot, from which the pricing equation gives the changes in time. */
interface SpotDerivatives {
  price: number;
  delta: number;
  gamma: number;
  speed: number;
}

/** Greeks of immediate exercise; everything else about the option has stopped to matter. */
export function exercisedGreeks(o: Option, probabilityItm: number): Greeks {
  const sign = o.side === 'call' ? 1 : -1;
  return {
    price: exerciseValue(o),
    delta: sign,
    gamma: 0,
    vega: 0,
    theta: 0,
    rho: 0,
    dividendRho: 0,
    dualDelta: -sign,
    vanna: 0,
    volga: 0,
    charm: 0,
    speed: 0,
    zomma: 0,
    color: 0,
    probabilityItm,
  };
}

/** theta, and its derivatives by spot, from V_t = r V - m V_S - a^2 V_SS / 2; `fourth` is the fourth derivative by spot. */
export function timeDerivatives(o: Option, d: SpotDerivatives, fourth: number) {
  const r = o.rate;
  if (o.model === 'normal') {
    const half = 0.5 * o.volatility ** 2;
    return {
      theta: r * d.price - half * d.gamma,
      charm: r * d.delta - half * d.speed,
      color: r * d.gamma - half * fourth,
    };
  }
  const q = carryYield(o);
  const S = o.underlying;
  const variance = o.volatility ** 2;
  return {
    theta: r * d.price - (r - q) * S * d.delta - 0.5 * variance * S * S * d.gamma,
    charm: q * d.delta - (r - q + variance) * S * d.gamma - 0.5 * variance * S * S * d.speed,
    color: (2 * q - r - variance) * d.gamma - (r - q + 2 * variance) * S * d.speed - 0.5 * variance * S * S * fourth,
  };
}

/** Weights of the four-point first and second derivatives at steps -2, -1, 1, 2; errors of the fourth power. */
function firstDerivative(m2: number, m1: number, p1: number, p2: number, step: number): number {
  return (m2 - 8 * m1 + 8 * p1 - p2) / (12 * step);
}
function secondDerivative(m2: number, m1: number, middle: number, p1: number, p2: number, step: number): number {
  return (-m2 + 16 * m1 - 30 * middle + 16 * p1 - p2) / (12 * step * step);
}

/** Relative step in volatility; absolute one in rate and yield; step in ln spot, in deviations. */
export const VOLATILITY_STEP = 0.004;
export const RATE_STEP = 2e-4;
const SPOT_STEP = 0.02;

/** Spot of the unit put that an option is. */
function unitSpotOf({ side, underlying, strike }: Option): number {
  return side === 'put' ? underlying / strike : strike / underlying;
}

/** Undefined where a market nearby has no boundary, on whose difference a Greek rests. */
function spectralGreeks(o: Option, rough: SolvedPut): Greeks | undefined {
  // The last steps, so that nearby markets, which take two steps from here, start from a settled boundary.
  const solved = nearbyPut(rough, {}) ?? rough;
  const probabilityItm = closedFormGreeks(o).probabilityItm;
  const isPut = o.side === 'put';
  if (isExercisedAt(solved, unitSpotOf(o))) return exercisedGreeks(o, probabilityItm);
  const base = derivativesOf(o, solved);
  const third = speedOf(o, solved);
  const d = { ...base, ...third };
  const time = timeDerivatives(o, d, third.fourth);
  const v = o.volatility;
  const h = VOLATILITY_STEP * v;
  const moved = [-2, -1, 1, 2].map((k) => nearby(solved, { volatility: v + k * h }));
  const own = rateSlope(o, solved, 'rate');
  const carry = rateSlope(o, solved, 'dividendYield');
  if (!moved.every((put) => put !== undefined) || own === undefined || carry === undefined) return undefined;
  const [m2, m1, p1, p2] = moved.map((put) => derivativesOf(o, put));
  const byVolatility = (name: 'price' | 'delta' | 'gamma') =>
    firstDerivative(m2[name], m1[name], p1[name], p2[name], h);
  const [byRate, byYield] = isPut ? [own, carry] : [carry, own];
  return {
    price: Math.max(base.price, exerciseValue(o)),
    delta: d.delta,
    gamma: d.gamma,
    vega: byVolatility('price'),
    // More time is never worth less to who may exercise at any: what is above 0 is a rounding next to the boundary.
    theta: Math.min(0, time.theta),
    rho: o.model === 'futures' ? byRate + byYield : byRate,
    dividendRho: o.model === 'futures' ? 0 : byYield,
    // V is homogeneous of degree one in spot and strike.
    dualDelta: (d.price - o.underlying * d.delta) / o.strike,
    vanna: byVolatility('delta'),
    volga: secondDerivative(m2.price, m1.price, d.price, p1.price, p2.price, h),
    charm: time.charm,
    speed: d.speed,
    zomma: byVolatility('gamma'),
    color: time.color,
    probabilityItm,
  };
}

/** The put in a market nearby, from its own boundary or, where that lies too far off, solved anew. */
function nearby(solved: SolvedPut, change: Parameters<typeof nearbyPut>[1]): SolvedPut | undefined {
  return nearbyPut(solved, change) ?? solvePut(solved.scheme, { ...solved.market, ...change });
}

/** d price / d rate of the unit put's market, one-sided where the step would cross to rates without a boundary. */
function rateSlope(o: Option, solved: SolvedPut, name: 'rate' | 'dividendYield'): number | undefined {
  const value = solved.market[name];
  const isOneSided = name === 'rate' && value - RATE_STEP <= 0;
  const [near, far] = (isOneSided ? [1, 2] : [-1, 1]).map((k) => {
    const put = nearby(solved, { [name]: value + k * RATE_STEP });
    return put && spectralPrice(o, put);
  });
  if (near === undefined || far === undefined) return undefined;
  if (isOneSided) return (-3 * spectralPrice(o, solved) + 4 * near - far) / (2 * RATE_STEP);
  return (far - near) / (2 * RATE_STEP);
}

/** Price, delta and gamma by the option's spot, from the unit put. */
export function derivativesOf(
  o: Option,
  solved: SolvedPut,
  spot = o.underlying,
): Omit<SpotDerivatives, 'speed'> & Pick<UnitPut, 'isExercised'> {
  const K = o.strike;
  if (o.side === 'put') {
    const { value, delta, gamma, isExercised } = unitPutAt(solved, spot / K);
    return { price: K * value, delta, gamma: gamma / K, isExercised };
  }
  const m = K / spot;
  const { value, delta, gamma, isExercised } = unitPutAt(solved, m);
  return { price: spot * value, delta: value - m * delta, gamma: (m * m * gamma) / spot, isExercised };
}

/** Third and fourth derivative by spot, by differences of gamma; from the continuation side next to the boundary. */
export function speedOf(o: Option, solved: SolvedPut): { speed: number; fourth: number } {
  const S = o.underlying;
  const h = SPOT_STEP * o.volatility * Math.sqrt(o.timeToExpiry) * S;
  const gammaAt = (k: number) => derivativesOf(o, solved, S + k * h).gamma;
  const isFree = (k: number) =>
    !isExercisedAt(solved, o.side === 'put' ? (S + k * h) / o.strike : o.strike / (S + k * h));
  if (isFree(-2) && isFree(2)) {
    const [m2, m1, middle, p1, p2] = [-2, -1, 0, 1, 2].map(gammaAt);
    return {
      speed: firstDerivative(m2, m1, p1, p2, h),
      fourth: secondDerivative(m2, m1, middle, p1, p2, h),
    };
  }
  const away = o.side === 'put' ? 1 : -1;
  const [g0, g1, g2, g3] = [0, 1, 2, 3].map((k) => gammaAt(away * k));
  return {
    speed: (away * (-11 * g0 + 18 * g1 - 9 * g2 + 2 * g3)) / (6 * h),
    fourth: (2 * g0 - 5 * g1 + 4 * g2 - g3) / (h * h),
  };
}

/** Steps of the grid's derivatives: large enough that the grid's own noise, 1e-7 of the strike, does not matter. */
export const GRID_VOLATILITY_STEP = 0.05;
const GRID_RATE_STEP = 1e-3;
const GRID_STRIKE_STEP = 0.005;
/** Price within this share of the strike of its exercise value, with delta 1, counts as to be exercised. */
const EXERCISED = 1e-9;

function finiteDifferenceGreeks(o: Option, accuracy: Accuracy): Greeks {
  const problem = finiteDifferenceProblem(o);
  const shape = gridShapeOf(problem);
  const { size, solution: d } = solveOnGrid(o, accuracy, shape);
  const solve = (change: Partial<Option>, digital = false): FiniteDifferenceResult =>
    solveFiniteDifferences(
      {
        ...finiteDifferenceProblem({ ...o, ...change }),
        ...(digital ? { isDigital: true, isAmerican: false } : {}),
      },
      size,
      // A moved strike takes its grid along.
      change.strike === undefined
        ? shape
        : { ...shape, lower: shape.lower + (problem.isNormal ? change.strike - o.strike : 0) },
    );
  const probabilityItm = Math.min(1, Math.max(0, solve({}, true).price * Math.exp(o.rate * o.timeToExpiry)));
  const scale = o.model === 'normal' ? o.volatility * Math.sqrt(o.timeToExpiry) : o.strike;
  const intrinsic = exerciseValue(o);
  if (o.exercise === 'american' && intrinsic > 0 && d.price <= intrinsic + EXERCISED * scale) {
    return exercisedGreeks(o, probabilityItm);
  }
  const h = GRID_VOLATILITY_STEP * o.volatility;
  const [m2, m1, p1, p2] = [-2, -1, 1, 2].map((k) => solve({ volatility: o.volatility + k * h }));
  const byVolatility = (name: 'price' | 'delta' | 'gamma') =>
    firstDerivative(m2[name], m1[name], p1[name], p2[name], h);
  const bySmallStep = (change: (sign: number) => Partial<Option>, step: number) =>
    (solve(change(1)).price - solve(change(-1)).price) / (2 * step);
  const strikeStep = GRID_STRIKE_STEP * scale;
  const S = o.underlying;
  const spotStep = 0.05 * (o.model === 'normal' ? scale : S * o.volatility * Math.sqrt(o.timeToExpiry));
  const fourth =
    (solve({ underlying: S + spotStep }).speed - solve({ underlying: S - spotStep }).speed) / (2 * spotStep);
  const time = timeDerivatives(o, d, fourth);
  return {
    price: d.price,
    delta: d.delta,
    gamma: d.gamma,
    vega: byVolatility('price'),
    // As beside a solved boundary; between dividends a day more may be worth less.
    theta: o.exercise === 'american' && !hasCashDividends(o) ? Math.min(0, time.theta) : time.theta,
    rho: bySmallStep((sign) => ({ rate: o.rate + sign * GRID_RATE_STEP }), GRID_RATE_STEP),
    dividendRho:
      o.model === 'spot'
        ? bySmallStep((sign) => ({ dividendYield: (o.dividendYield ?? 0) + sign * GRID_RATE_STEP }), GRID_RATE_STEP)
        : 0,
    dualDelta: bySmallStep((sign) => ({ strike: o.strike + sign * strikeStep }), strikeStep),
    vanna: byVolatility('delta'),
    volga: secondDerivative(m2.price, m1.price, d.price, p1.price, p2.price, h),
    charm: time.charm,
    speed: d.speed,
    zomma: byVolatility('gamma'),
    color: time.color,
    probabilityItm,
  };
}
