import { refineSvi, STEEPEST_RHO, type SviFitStop, type SviRun, type SviRunOptions } from './refine-svi.ts';
import { completeSvi, copyParameters, SVI_PARAMETERS, type SviFitPoints, sviFitPoints } from './svi-fit-points.ts';
import type { SviRawParameters } from './svi-raw.ts';

export interface SviRawFitInput {
  /** ln(strike / forward), any order */
  logMoneyness: Float64Array;
  /** Volatility to fit per point, > 0 */
  volatility: Float64Array;
  /** Weight of each squared volatility residual, >= 0 */
  weight: Float64Array;
  /** Years, > 0 */
  timeToExpiry: number;
  /** Parameters of a fit nearby to start from, instead of searching for a start */
  start?: SviRawParameters;
  /** Relative gain of the squared error under which to stop; default 1e-6 (5e-7 of the rmse) */
  smallGain?: number;
  /**
   * Relative gain of a step under which to stop even far from the best fit; default 0. Smiles with little of a bend leave
   * a long valley in which parameters trade off against each other while the curve hardly moves.
   */
  slowGain?: number;
  /** Most steps of a run; default 500 */
  mostIterations?: number;
}

export type SviRawFitResult =
  | {
      ok: true;
      parameters: SviRawParameters;
      /** Root of the weighted mean squared volatility residual */
      rmse: number;
      iterations: number;
      stop: SviFitStop;
    }
  | { ok: false; reason: 'too-few-points' | 'not-converged' };

const SMALL_GAIN = 1e-6;
const MOST_ITERATIONS = 500;
/** Shares of the range of log-moneyness at which the start looks for the bottom, and for its roundness. */
const SHIFTS = [0.15, 0.4, 0.6, 0.85];
const BENDS = [0.08, 0.25];
/**
 * Neighbouring residuals of a good fit are as often of unlike as of like sign: their squared differences sum to twice
 * their squares (Durbin & Watson 1950). Below this share the curve misses a shape, and another basin may hold it.
 */
const LEAST_ALTERNATION = 1.3;

/**
 * Raw SVI parameters that minimise the weighted squared differences in volatility.
 * The start is quasi-explicit: for a few (m, sigma) the other three follow from linear least squares in total variance;
 * then Levenberg-Marquardt on all five with the analytic Jacobian. A second start is tried when the residuals of the first
 * run keep a shape. No arbitrage constraint is imposed beyond b >= 0, |rho| < 1 and sigma > 0.
 * @returns tagged; `too-few-points` under five points of positive weight
 * @see Zeliade Systems (2009). Quasi-explicit calibration of Gatheral's SVI model (the start).
 */
export function fitSviRaw(o: SviRawFitInput): SviRawFitResult {
  const points = sviFitPoints(o.logMoneyness, o.volatility, o.weight, o.timeToExpiry);
  if (points.count < SVI_PARAMETERS) return { ok: false, reason: 'too-few-points' };
  const options: SviRunOptions = {
    smallGain: o.smallGain ?? SMALL_GAIN,
    slowGain: o.slowGain ?? 0,
    mostIterations: o.mostIterations ?? MOST_ITERATIONS,
  };
  if (o.start) {
    const { a, b, rho, m, sigma } = o.start;
    const p = Float64Array.of(a, b, rho, m, sigma);
    return result(o, points, p, refineSvi(points, p, options));
  }
  findStarts(points);
  let best = FIRST;
  let run = refineSvi(points, FIRST, options);
  if (run.stop !== 'floor' && !(alternation(points, FIRST) >= LEAST_ALTERNATION)) {
    const other = refineSvi(points, SECOND, options);
    if (!(other.cost >= run.cost)) {
      best = SECOND;
      run = other;
    }
  }
  return result(o, points, best, run);
}

function result(o: SviRawFitInput, points: SviFitPoints, p: Float64Array, run: SviRun): SviRawFitResult {
  if (!(run.cost < Infinity)) return { ok: false, reason: 'not-converged' };
  return {
    ok: true,
    parameters: { a: p[0], b: p[1], rho: p[2], m: p[3], sigma: p[4] },
    rmse: Math.sqrt(run.cost / (points.totalWeight * o.timeToExpiry)),
    iterations: run.iterations,
    stop: run.stop,
  };
}

const FIRST = new Float64Array(SVI_PARAMETERS);
const SECOND = new Float64Array(SVI_PARAMETERS);
const CANDIDATE = new Float64Array(SVI_PARAMETERS);

/**
 * Puts the best of a coarse grid of (m, sigma), with a look around it, into FIRST and the second best into SECOND: now
 * and then there is a second basin.
 */
function findStarts(points: SviFitPoints): void {
  const { count, k } = points;
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < count; i++) {
    if (k[i] < low) low = k[i];
    if (k[i] > high) high = k[i];
  }
  const span = high - low || 0.1;
  COSTS.fill(Infinity);
  for (const shift of SHIFTS) for (const bend of BENDS) consider(points, low + shift * span, bend * span);
  const m = FIRST[3];
  const sigma = FIRST[4];
  consider(points, m, 0.6 * sigma);
  consider(points, m, 1.6 * sigma);
  const better = FIRST[4];
  consider(points, m + 0.1 * span, better);
  consider(points, m - 0.1 * span, better);
}

/** Errors of FIRST and SECOND. */
const COSTS = new Float64Array(2);

function consider(points: SviFitPoints, m: number, sigma: number): void {
  const cost = completeSvi(points, CANDIDATE, m, sigma, STEEPEST_RHO);
  if (cost < COSTS[0]) {
    COSTS[1] = COSTS[0];
    copyParameters(SECOND, FIRST);
    COSTS[0] = cost;
    copyParameters(FIRST, CANDIDATE);
  } else if (cost < COSTS[1]) {
    COSTS[1] = cost;
    copyParameters(SECOND, CANDIDATE);
  }
}

/** Squared differences of neighbouring residuals over their squares: near 2 for noise, near 0 for a shape. */
function alternation({ count, k, y, weight }: SviFitPoints, p: Float64Array): number {
  let differences = 0;
  let squares = 0;
  let before = 0;
  for (let i = 0; i < count; i++) {
    const d = k[i] - p[3];
    const residual = Math.sqrt(p[0] + p[1] * (p[2] * d + Math.sqrt(d * d + p[4] * p[4]))) - y[i];
    squares += weight[i] * residual * residual;
    if (i > 0) differences += Math.min(weight[i], weight[i - 1]) * (residual - before) ** 2;
    before = residual;
  }
  return differences / squares;
}
