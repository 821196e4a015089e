import { median } from '../math/index.ts';
import type { Side } from '../pricing/index.ts';
import { fitSviRaw } from './fit-svi-raw.ts';
import { type Smile, smileVolatility } from './smile.ts';
import type { SmileDescription } from './smile-description.ts';
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
/** A step that gains less than this share of the squared error, half as much of the error, moves a smile by far less than a quote's width. */
export const SLOW_GAIN = 1e-3;
/** The smile against which quotes are judged need not be exact. */
const DETECTION_GAIN = 1e-3;
const DETECTION_STEPS = 15;
/** Another round of falling weights changes nothing that matters when the scale moves by less than this share. */
const SETTLED_SCALE = 0.02;

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
      slowGain: SLOW_GAIN,
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

/** A level without shape: the weighted mean volatility of the points. */
export function flatLevel(points: SmilePoint[]): SmileDescription {
  let sum = 0;
  let total = 0;
  for (const p of points) {
    sum += p.volatility / p.halfWidth ** 2;
    total += 1 / p.halfWidth ** 2;
  }
  return { model: 'flat', parameters: { volatility: sum / total } };
}
