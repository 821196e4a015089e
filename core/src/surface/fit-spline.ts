import { butterflyArbitrage, calendarArbitrage, outerRange, STEEPEST_WING } from './arbitrage.ts';
import { type Smile, smileVolatility } from './smile.ts';
import type { SmilePoint } from './smile-points.ts';
import { smoothingSpline, type SplineParameters, splineSmile } from './spline-smile.ts';

export interface SplineFitInput {
  /** Ascending in log-moneyness */
  points: SmilePoint[];
  timeToExpiry: number;
  range: readonly [number, number];
  /** The nearer expiry's smile, and where it must not be crossed */
  near?: { smile: Smile; range: readonly [number, number] };
}

const LEAST_POINTS = 8;
/** Share of the quotes within whose market the spline is to pass; the smoothest that does is taken. */
const WANTED_INSIDE = 0.95;
/** Powers of ten of the penalty, in units of which the data and the bend weigh alike, and the steps between them. */
const STIFFEST = 2;
const SOFTEST = -10;
const STEP = 0.25;

/**
 * The smoothest natural cubic spline of total variance that passes inside nearly all quotes and is free of arbitrage:
 * for shapes that raw SVI cannot bend to, such as the two bumps before an event.
 * @returns undefined with few points, or when none is free of arbitrage
 */
export function fitSpline(o: SplineFitInput): SplineParameters | undefined {
  const { points, timeToExpiry } = o;
  if (points.length < LEAST_POINTS) return undefined;
  const knots = points.map((p) => p.k);
  const values = points.map((p) => p.volatility ** 2 * timeToExpiry);
  // An error of e in volatility is one of 2 volatility T e in total variance.
  const weights = points.map((p) => (2 * p.volatility * timeToExpiry * p.halfWidth) ** -2);
  const span = knots[knots.length - 1] - knots[0];
  const unit = weights.reduce((sum, w) => sum + w, 0) * span ** 3;
  let best: SplineParameters | undefined;
  let most = 0;
  for (let power = STIFFEST; power >= SOFTEST; power -= STEP) {
    const parameters = smoothingSpline(knots, values, weights, unit * 10 ** power);
    const smile = splineSmile(parameters, timeToExpiry);
    const inside = insideShare(points, smile);
    // Softer splines pass inside more quotes and come nearer to arbitrage.
    if (inside > most && isFree(smile, o)) [best, most] = [parameters, inside];
    if (inside >= WANTED_INSIDE) break;
  }
  return best;
}

function insideShare(points: SmilePoint[], smile: Smile): number {
  let inside = 0;
  for (const p of points) {
    const fitted = smileVolatility(smile, p.k);
    if (fitted >= p.bid && fitted <= p.ask) inside++;
  }
  return inside / points.length;
}

function isFree(smile: Smile, { range, near }: SplineFitInput): boolean {
  const [low, high] = outerRange(range);
  return (
    Math.max(-smile.slope(low), smile.slope(high)) <= STEEPEST_WING &&
    butterflyArbitrage(smile, [low, high]).length === 0 &&
    (!near || calendarArbitrage(near.smile, smile, near.range).length === 0)
  );
}
