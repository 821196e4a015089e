import { median } from '../math/index.ts';
import type { Side } from '../pricing/index.ts';
import { fitSviRaw } from './fit-svi-raw.ts';
import type { ImpliedSlice } from './imply-slice.ts';
import { quoteVolatilities } from './quote-volatilities.ts';
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
export function smilePoints({ slice, forward, verdicts, outOfTheMoney }: ImpliedSlice): SmilePoint[] {
  const { bid, mid, ask } = quoteVolatilities(slice, outOfTheMoney, forward);
  const points: SmilePoint[] = [];
  for (let i = 0; i < slice.strikes.length; i++) {
    const side = outOfTheMoney[i];
    if (verdicts[side][i] !== undefined || !(mid[i] > 0)) continue;
    const low = bid[i] > 0 ? bid[i] : 0;
    points.push({
      index: i,
      side,
      k: Math.log(slice.strikes[i] / forward.forward),
      volatility: mid[i],
      bid: low,
      ask: ask[i],
      halfWidth: Math.max(LEAST_HALF_WIDTH, 0.5 * (ask[i] - low)),
    });
  }
  return points;
}

/** What a raw SVI fit reads of its points. */
export function pointColumns(points: SmilePoint[]): { logMoneyness: Float64Array; volatility: Float64Array } {
  const logMoneyness = new Float64Array(points.length);
  const volatility = new Float64Array(points.length);
  for (let i = 0; i < points.length; i++) {
    logMoneyness[i] = points[i].k;
    volatility[i] = points[i].volatility;
  }
  return { logMoneyness, volatility };
}

/** Weights of the points by the width of their market. */
export function widthWeights(points: SmilePoint[]): Float64Array {
  const weights = new Float64Array(points.length);
  for (let i = 0; i < weights.length; i++) weights[i] = 1 / points[i].halfWidth ** 2;
  return weights;
}

export interface RobustSmile {
  smile: Smile;
  parameters: SviRawParameters;
  /** Of its residuals in volatility: what a standard deviation would be without the wrong points */
  scale: number;
}

/**
 * A fit that a few wrong points do not bend: weights fall with the residual (Cauchy), four rounds at most.
 * @param start parameters of a smile of nearly the same points, instead of searching for a start
 * @returns undefined with too few points
 */
export function robustSmile(
  points: SmilePoint[],
  timeToExpiry: number,
  start?: SviRawParameters,
): RobustSmile | undefined {
  const columns = pointColumns(points);
  const weight = widthWeights(points);
  const residuals = new Float64Array(points.length);
  let outcome: RobustSmile | undefined;
  for (let round = 0; round < 4; round++) {
    const fit = fitSviRaw({
      ...columns,
      weight,
      timeToExpiry,
      start: outcome?.parameters ?? start,
      smallGain: DETECTION_GAIN,
      mostIterations: DETECTION_STEPS,
    });
    if (!fit.ok) return outcome;
    const smile = sviRawSmile(fit.parameters, timeToExpiry);
    for (let i = 0; i < residuals.length; i++) {
      residuals[i] = Math.abs(points[i].volatility - smileVolatility(smile, points[i].k));
    }
    const scale = median(residuals) / 0.6745;
    const isSettled = outcome !== undefined && Math.abs(scale - outcome.scale) <= SETTLED_SCALE * outcome.scale;
    outcome = { smile, parameters: fit.parameters, scale };
    if (isSettled) break;
    const soft = Math.max(2 * scale, 1e-6);
    for (let i = 0; i < weight.length; i++) {
      weight[i] = 1 / (points[i].halfWidth ** 2 * (1 + (residuals[i] / soft) ** 2));
    }
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
