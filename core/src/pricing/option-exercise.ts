import type { Accuracy } from './american-levels.ts';
import { logBoundaryOf } from './american-spectral.ts';
import { solveFiniteDifferences } from './finite-difference.ts';
import { gridShapeOf } from './finite-difference-grid.ts';
import { carryYield, checkOption, exerciseValue, hasCashDividends, type Option } from './option.ts';
import { closedFormPrice, finiteDifferenceProblem, GRID_SIZES, optionPrice, solveOption } from './option-price.ts';
import { inUnitsOf, scaleOf } from './option-scale.ts';
import { pricingMethod } from './pricing-method.ts';

/** What the right to exercise early is worth, and from where on it is used. */
export interface EarlyExercise {
  /** Price less that of the European option, >= 0 */
  premium: number;
  /**
   * Price of the underlying at which exercise today is as good as holding: at and below it for a put, at and above it
   * for a call. Undefined when today no price makes exercise the better choice, when two do, or when it lies beyond all
   * that the underlying can reach before expiry.
   */
  boundary?: number;
}

/** Deviations beyond which a boundary cannot matter: reaching it has a chance of about 1e-9. */
const REACH = 6;

/**
 * Early-exercise premium and today's exercise boundary of an American option; nothing of either for a European one.
 * @throws RangeError outside the ranges of {@link Option}
 */
export function earlyExercise(option: Option, accuracy: Accuracy = 'default'): EarlyExercise {
  checkOption(option);
  const scale = scaleOf(option);
  const { premium, boundary } = exerciseInUnits(inUnitsOf(option, scale), accuracy);
  return { premium: premium * scale, boundary: boundary === undefined ? undefined : boundary * scale };
}

function exerciseInUnits(o: Option, accuracy: Accuracy): EarlyExercise {
  const { method } = pricingMethod(o);
  if (o.exercise === 'european' || method === 'closed-form' || method === 'certain') return { premium: 0 };
  const european = hasCashDividends(o) ? optionPrice({ ...o, exercise: 'european' }, accuracy) : closedFormPrice(o);
  const premium = Math.max(0, optionPrice(o, accuracy) - european);
  const solved = method === 'spectral-collocation' ? solveOption(o, accuracy) : undefined;
  if (solved) {
    const distance = logBoundaryOf(solved);
    return { premium, boundary: withinReach(o, o.strike * Math.exp(o.side === 'put' ? distance : -distance)) };
  }
  return { premium, boundary: withinReach(o, gridBoundary(o, accuracy)) };
}

function withinReach(o: Option, boundary: number | undefined): number | undefined {
  if (boundary === undefined) return undefined;
  const [low, high] = reachOf(o);
  return boundary < low || boundary > high ? undefined : boundary;
}

/** Lowest and highest price that the underlying can come to before expiry. */
function reachOf(o: Option): [number, number] {
  const deviation = o.volatility * Math.sqrt(o.timeToExpiry);
  if (o.model === 'normal') return [o.underlying - REACH * deviation, o.underlying + REACH * deviation];
  const reach = REACH * deviation + Math.abs(o.rate - carryYield(o)) * o.timeToExpiry;
  return [o.underlying * Math.exp(-reach), o.underlying * Math.exp(reach)];
}

/** Bisection between the strike and as far as the underlying can reach; undefined where exercise does not pay even there. */
function gridBoundary(o: Option, accuracy: Accuracy): number | undefined {
  const problem = finiteDifferenceProblem(o);
  const shape = gridShapeOf(problem);
  const tolerance = 1e-7 * (shape.upper - shape.lower) + 1e-12;
  const isHeld = (spot: number) => {
    const at = { ...o, underlying: spot };
    const { price } = solveFiniteDifferences(finiteDifferenceProblem(at), GRID_SIZES[accuracy], shape);
    return price > exerciseValue(at) + 1e-8 * Math.abs(o.strike);
  };
  const [low, high] = reachOf(o);
  let held = o.strike;
  let exercised =
    o.side === 'put'
      ? Math.max(low, o.strike - 0.999 * (o.strike - shape.lower))
      : Math.min(high, o.strike + 0.999 * (shape.upper - o.strike));
  // Beyond the strike on the side where exercise pays nothing lies no boundary.
  if (o.side === 'put' ? exercised >= held : exercised <= held) return undefined;
  if (isHeld(exercised)) return undefined;
  while (Math.abs(held - exercised) > tolerance) {
    const middle = 0.5 * (held + exercised);
    if (isHeld(middle)) held = middle;
    else exercised = middle;
  }
  return exercised;
}
