import { type Accuracy, schemeOf } from './american-levels.ts';
import { type SolvedPut, spectralValue } from './american-spectral.ts';
import { BoundariesByVolatility, type UnitPutTerms } from './boundaries-by-volatility.ts';
import { solveFirstGreeks } from './finite-difference.ts';
import { gridShapeOf } from './finite-difference-grid.ts';
import type { Greeks } from './greeks.ts';
import { carryYield, checkOption, exerciseValue, hasCashDividends, type Option } from './option.ts';
import {
  derivativesOf,
  exercisedGreeks,
  GRID_VOLATILITY_STEP,
  RATE_STEP,
  speedOf,
  timeDerivatives,
  valuedOption,
  VOLATILITY_STEP,
} from './option-greeks.ts';
import { finerNextToBoundary, finiteDifferenceProblem, GRID_SIZES } from './option-price.ts';
import { isPlainPrice } from './option-scale.ts';
import { type PricingMethod, pricingMethod } from './pricing-method.ts';

/** What the options of a ladder share. */
export type LadderTerms = Omit<Option, 'side' | 'strike' | 'volatility'>;

/** One option of a ladder. */
export type LadderRung = Pick<Option, 'side' | 'strike' | 'volatility'>;

/** Second-order Greeks, plain partial derivatives as in `Greeks`. */
export type LadderSecondOrder = Pick<Greeks, 'vanna' | 'volga' | 'charm'>;

/** Value and first-order Greeks, plain partial derivatives as in `Greeks`, with the way they were computed. */
export interface LadderValue extends FirstOrder {
  /** Where they were asked for */
  second?: LadderSecondOrder;
  method: PricingMethod;
  /** Level of accuracy; a closed form is exact at every level */
  level: Accuracy;
}

type FirstOrder = Pick<Greeks, 'price' | 'delta' | 'gamma' | 'theta' | 'vega' | 'rho'>;

/** Level of the boundaries, and of the grids where dividends are paid in cash. */
export const LADDER_LEVELS = { spectral: 'default', grid: 'fast' } as const satisfies Record<string, Accuracy>;

/** Fewer of a side are solved one by one: interpolation would cost more than it saves. */
const LEAST_SHARED = 4;

/**
 * Value and first-order Greeks of many options of one expiry, each with its own strike and volatility.
 *
 * American options with a continuous yield share exercise boundaries between their volatilities; those with cash dividends
 * get a grid each, whose steps carry the derivatives by volatility and rate along. Errors against level `exact`, in prices
 * as shares of the strike, vega and rho as shares of strike x root of time and strike x time, over markets drawn in the test
 * beside: boundaries 3e-5 in price, 4e-4 in delta, 4e-4 in vega and 6e-3 in rho, the greatest next to the boundary; grids
 * 5e-5, 3e-3, 1.5e-2 and 6e-2 (medians 6e-7, 3e-6, 8e-5 and 9e-5).
 * @returns one value a rung, in their order; undefined where a rung is outside the ranges of {@link Option}
 */
export function optionLadder(
  terms: LadderTerms,
  rungs: readonly LadderRung[],
  { isSecondOrder = false } = {},
): (LadderValue | undefined)[] {
  const out = new Array<LadderValue | undefined>(rungs.length);
  const shared: Record<Option['side'], number[]> = { call: [], put: [] };
  rungs.forEach((rung, i) => {
    const option: Option = { ...terms, ...rung };
    const method = methodOf(option);
    if (!method) return;
    if (method === 'spectral-collocation' && isPlain(option)) shared[rung.side].push(i);
    else out[i] = alone(option, method, isSecondOrder);
  });
  for (const side of ['call', 'put'] as const) {
    const places = shared[side];
    const solve =
      places.length < LEAST_SHARED ? undefined : sharedBoundaries(terms, side, { places, rungs, isSecondOrder });
    for (const i of places) {
      const option: Option = { ...terms, ...rungs[i] };
      out[i] = solve ? solve(option) : alone(option, 'spectral-collocation', isSecondOrder);
    }
  }
  return out;
}

function methodOf(o: Option): PricingMethod | undefined {
  try {
    checkOption(o);
    return pricingMethod(o).method;
  } catch (error) {
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

function isPlain(o: Option): boolean {
  return isPlainPrice(o.underlying) && isPlainPrice(o.strike);
}

function alone(o: Option, first: PricingMethod, isSecondOrder: boolean): LadderValue | undefined {
  if (first === 'finite-difference' && hasCashDividends(o) && isPlain(o)) return gridValue(o, isSecondOrder);
  try {
    const level = LADDER_LEVELS.spectral;
    const { greeks, method } = valuedOption(o, level);
    return { ...firstOf(greeks), ...(isSecondOrder ? { second: secondOf(greeks) } : {}), method, level };
  } catch (error) {
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

/** Values by boundaries at all volatilities of a side; undefined when one of them cannot be solved. */
function sharedBoundaries(
  terms: LadderTerms,
  side: Option['side'],
  { places, rungs, isSecondOrder }: { places: readonly number[]; rungs: readonly LadderRung[]; isSecondOrder: boolean },
): ((o: Option) => LadderValue) | undefined {
  const scheme = schemeOf(LADDER_LEVELS.spectral);
  const isPut = side === 'put';
  const isFuture = terms.model === 'futures';
  const carry = carryYield({ ...terms, ...rungs[places[0]] });
  const unit: UnitPutTerms = {
    rate: isPut ? terms.rate : carry,
    dividendYield: isPut ? carry : terms.rate,
    timeToExpiry: terms.timeToExpiry,
  };
  let [low, high] = [Infinity, 0];
  for (const i of places) {
    low = Math.min(low, rungs[i].volatility);
    high = Math.max(high, rungs[i].volatility);
  }
  const base = BoundariesByVolatility.solve(scheme, unit, [low, high]);
  // The rate of the option, which with a futures price is the unit put's yield as well.
  const at = (step: number): Partial<UnitPutTerms> => ({
    ...(isPut || isFuture ? { rate: unit.rate + step } : {}),
    ...(!isPut || isFuture ? { dividendYield: unit.dividendYield + step } : {}),
  });
  // Below a rate of 0 there is no boundary to differ from.
  const isOneSided = (isPut || isFuture) && unit.rate - RATE_STEP <= 0;
  const [near, far] = (isOneSided ? [1, 2] : [-1, 1]).map((n) => base?.nearby(at(n * RATE_STEP)));
  if (!base || !near || !far) return undefined;
  const room = base.room();
  return (o) => {
    const { volatility: v, underlying: spot, strike } = o;
    const valueAt = (boundaries: BoundariesByVolatility, volatility: number) =>
      spectralValue(boundaries.at(room, volatility), isPut, spot, strike);
    const put: SolvedPut = base.at(room, v);
    const d = derivativesOf(o, put);
    const way = { method: 'spectral-collocation', level: LADDER_LEVELS.spectral } as const;
    if (d.isExercised) {
      const exercised = exercisedGreeks(o, 0);
      return { ...firstOf(exercised), ...(isSecondOrder ? { second: secondOf(exercised) } : {}), ...way };
    }
    const third = isSecondOrder ? speedOf(o, put) : undefined;
    const time = timeDerivatives(o, { ...d, speed: third?.speed ?? 0 }, third?.fourth ?? 0);
    const price = Math.max(d.price, exerciseValue(o));
    const h = VOLATILITY_STEP * v;
    const [nearer, farther] = [valueAt(near, v), valueAt(far, v)];
    const [less, more] = [v - h, v + h].map((volatility) =>
      isSecondOrder ? derivativesOf(o, base.at(room, volatility)) : { price: valueAt(base, volatility), delta: 0 },
    );
    const second = {
      vanna: (more.delta - less.delta) / (2 * h),
      volga: (more.price - 2 * price + less.price) / (h * h),
      charm: time.charm,
    };
    return {
      price,
      delta: d.delta,
      gamma: d.gamma,
      theta: time.theta,
      vega: (more.price - less.price) / (2 * h),
      rho: isOneSided ? (-3 * price + 4 * nearer - farther) / (2 * RATE_STEP) : (farther - nearer) / (2 * RATE_STEP),
      ...(isSecondOrder ? { second } : {}),
      ...way,
    };
  };
}

/** An option with cash dividends on a grid of its own. */
function gridValue(o: Option, isSecondOrder: boolean): LadderValue {
  const level = LADDER_LEVELS.grid;
  const problem = finiteDifferenceProblem(o);
  const first = solveFirstGreeks(problem, GRID_SIZES[level]);
  const finer = finerNextToBoundary(o, level, first.price);
  const d = finer ? solveFirstGreeks(problem, finer) : first;
  const way = { method: 'finite-difference', level } as const;
  const intrinsic = exerciseValue(o);
  if (o.exercise === 'american' && intrinsic > 0 && d.price <= intrinsic + EXERCISED * o.strike) {
    const exercised = exercisedGreeks(o, 0);
    return { ...firstOf(exercised), ...(isSecondOrder ? { second: secondOf(exercised) } : {}), ...way };
  }
  const { price, delta, gamma, vega, rho } = d;
  const { theta, charm } = timeDerivatives(o, d, 0);
  const value = { price, delta, gamma, vega, rho, theta, ...way };
  if (!isSecondOrder) return value;
  const size = finer ?? GRID_SIZES[level];
  const shape = gridShapeOf(problem);
  const h = GRID_VOLATILITY_STEP * o.volatility;
  const [less, more] = [-h, h].map((step) =>
    solveFirstGreeks({ ...problem, volatility: o.volatility + step }, size, shape),
  );
  return { ...value, second: { vanna: d.vanna, volga: (more.vega - less.vega) / (2 * h), charm } };
}

/** Price within this share of the strike of its exercise value counts as to be exercised. */
const EXERCISED = 1e-9;

function firstOf({ price, delta, gamma, theta, vega, rho }: FirstOrder): FirstOrder {
  return { price, delta, gamma, theta, vega, rho };
}

function secondOf({ vanna, volga, charm }: LadderSecondOrder): LadderSecondOrder {
  return { vanna, volga, charm };
}
