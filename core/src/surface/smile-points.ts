import { median } from '../math/index.ts';
import type { Side } from '../pricing/index.ts';
import { fitSviRaw, type SviRawFitInput, type SviRawFitResult } from './fit-svi-raw.ts';
import type { ImpliedSlice } from './imply-slice.ts';
import { type Smile, smileVolatility } from './smile.ts';
import { type SviRawParameters, sviRawSmile } from './svi-raw.ts';

/** A quote that a smile is fitted to. */
export interface SmilePoint {
  /** Of the strike in its slice */
  index: number;
  side: Side;
  /** ln(strike / forward) */
  k: number;
  volatility: number;
  bid: number;
  ask: number;
  halfWidth: number;
}

/** A market is taken to be no narrower than this in volatility, so that a locked quote does not rule the fit. */
export const LEAST_HALF_WIDTH = 0.0005;
/** The smile against which quotes are judged need not be exact: a part in a thousand of the squared error. */
const DETECTION_GAIN = 1e-3;
const DETECTION_STEPS = 15;
/** Another round of falling weights changes nothing that matters when the scale moves by less than this share. */
const SETTLED_SCALE = 0.02;

/** Points of the fit: the out-of-the-money quote of each strike that has no verdict. */
export function smilePoints(state: ImpliedSlice): SmilePoint[] {
  const points: SmilePoint[] = [];
  for (let i = 0; i < state.slice.strikes.length; i++) {
    const side = state.outOfTheMoney[i];
    const { bid, mid, ask } = state[side];
    if (state.verdicts[side][i] !== undefined || !(mid[i] > 0)) continue;
    const low = bid[i] > 0 ? bid[i] : 0;
    points.push({
      index: i,
      side,
      k: Math.log(state.slice.strikes[i] / state.forward.forward),
      volatility: mid[i],
      bid: low,
      ask: ask[i],
      halfWidth: Math.max(LEAST_HALF_WIDTH, 0.5 * (ask[i] - low)),
    });
  }
  return points;
}

/** Raw SVI through points with a weight for each. */
export function fitPoints(
  points: SmilePoint[],
  weight: (i: number) => number,
  timeToExpiry: number,
  o: Pick<SviRawFitInput, 'start' | 'smallGain' | 'mostIterations'> = {},
): SviRawFitResult {
  const count = points.length;
  const logMoneyness = new Float64Array(count);
  const volatility = new Float64Array(count);
  const weights = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    logMoneyness[i] = points[i].k;
    volatility[i] = points[i].volatility;
    weights[i] = weight(i);
  }
  return fitSviRaw({ ...o, logMoneyness, volatility, weight: weights, timeToExpiry });
}

export interface RobustSmile {
  smile: Smile;
  parameters: SviRawParameters;
  /** Of its residuals in volatility: what a standard deviation would be without the wrong points */
  scale: number;
}

/**
 * A fit that a few wrong points do not bend: weights fall with the residual (Cauchy), four rounds at most.
 * @returns undefined with too few points
 */
export function robustSmile(points: SmilePoint[], timeToExpiry: number): RobustSmile | undefined {
  let weights = points.map((p) => 1 / p.halfWidth ** 2);
  let outcome: RobustSmile | undefined;
  for (let round = 0; round < 4; round++) {
    const fit = fitPoints(points, (i) => weights[i], timeToExpiry, {
      start: outcome?.parameters,
      smallGain: DETECTION_GAIN,
      mostIterations: DETECTION_STEPS,
    });
    if (!fit.ok) return outcome;
    const smile = sviRawSmile(fit.parameters, timeToExpiry);
    const residuals = points.map((p) => Math.abs(p.volatility - smileVolatility(smile, p.k)));
    const scale = median(residuals) / 0.6745;
    const isSettled = outcome !== undefined && Math.abs(scale - outcome.scale) <= SETTLED_SCALE * outcome.scale;
    outcome = { smile, parameters: fit.parameters, scale };
    if (isSettled) break;
    const soft = Math.max(2 * scale, 1e-6);
    weights = points.map((p, i) => 1 / (p.halfWidth ** 2 * (1 + (residuals[i] / soft) ** 2)));
  }
  return outcome;
}

/** A level without shape: the weighted mean of the points. */
export function flatSmile(points: SmilePoint[], timeToExpiry: number): { smile: Smile; volatility: number } {
  let sum = 0;
  let total = 0;
  for (const p of points) {
    sum += p.volatility / p.halfWidth ** 2;
    total += 1 / p.halfWidth ** 2;
  }
  const volatility = sum / total;
  const smile = {
    timeToExpiry,
    totalVariance: () => volatility ** 2 * timeToExpiry,
    slope: () => 0,
    curvature: () => 0,
  };
  return { smile, volatility };
}
