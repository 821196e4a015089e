import { solveLinear } from '../math/index.ts';
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
  /** Relative gain of the squared error under which to stop; default 1e-7 (5e-8 of the rmse) */
  smallGain?: number;
}

export type SviRawFitResult =
  | {
      ok: true;
      parameters: SviRawParameters;
      /** Root of the weighted mean squared volatility residual */
      rmse: number;
      iterations: number;
      stop: 'small-step' | 'small-gain' | 'iteration-limit';
    }
  | { ok: false; reason: 'too-few-points' | 'not-converged' };

const PARAMETERS = 5;
const MAX_ITERATIONS = 200;
const SMALL_GAIN = 1e-7;
/** Raw SVI bends no sharper than this over log-moneyness; far below the distance between strikes. */
const LEAST_SIGMA = 1e-4;
const STEEPEST_RHO = 0.9999;

/**
 * Raw SVI parameters that minimise the weighted squared differences in volatility.
 * The start is quasi-explicit: for a few (m, sigma) the other three follow from linear least squares in total variance;
 * then Levenberg-Marquardt on all five with the analytic Jacobian. No arbitrage constraint is imposed beyond b >= 0,
 * |rho| < 1 and sigma > 0.
 * @returns tagged; `too-few-points` under five points of positive weight
 * @see Zeliade Systems (2009). Quasi-explicit calibration of Gatheral's SVI model (the start).
 * @see Marquardt, D. W. (1963). An algorithm for least-squares estimation of nonlinear parameters. SIAM J. 11(2), 431-441.
 */
export function fitSviRaw(o: SviRawFitInput): SviRawFitResult {
  let points = 0;
  let totalWeight = 0;
  for (let i = 0; i < o.weight.length; i++) {
    if (o.weight[i] > 0) points++;
    totalWeight += o.weight[i];
  }
  if (points < PARAMETERS) return { ok: false, reason: 'too-few-points' };
  let best: { p: Float64Array; cost: number; iterations: number; stop: SviRawFitStop } | undefined;
  for (const start of o.start ? [fromParameters(o.start)] : startingPoints(o)) {
    const run = refine(o, start);
    if (!best || run.cost < best.cost) best = run;
  }
  if (!best || !Number.isFinite(best.cost)) return { ok: false, reason: 'not-converged' };
  const [a, b, rho, m, sigma] = best.p;
  return {
    ok: true,
    parameters: { a, b, rho, m, sigma },
    rmse: Math.sqrt(best.cost / totalWeight),
    iterations: best.iterations,
    stop: best.stop,
  };
}

function fromParameters({ a, b, rho, m, sigma }: SviRawParameters): Float64Array {
  return Float64Array.of(a, b, rho, m, sigma);
}

type SviRawFitStop = Extract<SviRawFitResult, { ok: true }>['stop'];

/** The best two of a coarse grid of (m, sigma), each completed by linear least squares: a second basin is common. */
function startingPoints(o: SviRawFitInput): Float64Array[] {
  let low = Infinity;
  let high = -Infinity;
  for (let i = 0; i < o.weight.length; i++) {
    if (!(o.weight[i] > 0)) continue;
    low = Math.min(low, o.logMoneyness[i]);
    high = Math.max(high, o.logMoneyness[i]);
  }
  const span = high - low || 0.1;
  const candidates: { p: Float64Array; cost: number }[] = [];
  for (const shift of [0.1, 0.35, 0.6, 0.85]) {
    for (const bend of [0.06, 0.2, 0.6]) {
      const p = completeLinear(o, low + shift * span, bend * span);
      if (p) candidates.push({ p, cost: evaluate(o, p) });
    }
  }
  candidates.sort((x, y) => x.cost - y.cost);
  return candidates.slice(0, 2).map((c) => c.p);
}

/** a, b and rho for a given m and sigma: w = a + d y + c z is linear in (a, d, c), y = (k - m) / sigma, z = sqrt(1 + y^2). */
function completeLinear(o: SviRawFitInput, m: number, sigma: number): Float64Array | undefined {
  const matrix = new Float64Array(9);
  const right = new Float64Array(3);
  for (let i = 0; i < o.weight.length; i++) {
    const v = o.volatility[i];
    // A volatility error of e is a total variance error of 2 v T e.
    const weight = o.weight[i] / (v * v);
    if (!(weight > 0)) continue;
    const y = (o.logMoneyness[i] - m) / sigma;
    const row = [1, y, Math.sqrt(1 + y * y)];
    const w = v * v * o.timeToExpiry;
    for (let r = 0; r < 3; r++) {
      right[r] += weight * row[r] * w;
      for (let c = 0; c < 3; c++) matrix[3 * r + c] += weight * row[r] * row[c];
    }
  }
  if (!solveLinear(matrix, right)) return undefined;
  const [a, d, c] = right;
  const wing = Math.max(c, Math.abs(d) / STEEPEST_RHO, 1e-10);
  return Float64Array.of(a, wing / sigma, Math.max(-STEEPEST_RHO, Math.min(STEEPEST_RHO, d / wing)), m, sigma);
}

/** Weighted squared volatility error, infinite where total variance is not positive. */
function evaluate(o: SviRawFitInput, p: Float64Array): number {
  const [a, b, rho, m, sigma] = p;
  let cost = 0;
  for (let i = 0; i < o.weight.length; i++) {
    if (!(o.weight[i] > 0)) continue;
    const d = o.logMoneyness[i] - m;
    const w = a + b * (rho * d + Math.sqrt(d * d + sigma * sigma));
    if (!(w > 0)) return Infinity;
    const residual = Math.sqrt(w / o.timeToExpiry) - o.volatility[i];
    cost += o.weight[i] * residual * residual;
  }
  return cost;
}

function refine(o: SviRawFitInput, start: Float64Array) {
  const p = start.slice();
  const trial = new Float64Array(PARAMETERS);
  const normal = new Float64Array(PARAMETERS * PARAMETERS);
  const damped = new Float64Array(PARAMETERS * PARAMETERS);
  const gradient = new Float64Array(PARAMETERS);
  const step = new Float64Array(PARAMETERS);
  let cost = evaluate(o, p);
  let damping = 1e-3;
  let iterations = 0;
  let stop: SviRawFitStop = 'iteration-limit';
  while (iterations < MAX_ITERATIONS && Number.isFinite(cost)) {
    iterations++;
    assemble(o, p, normal, gradient);
    let isImproved = false;
    while (damping < 1e12) {
      damped.set(normal);
      for (let j = 0; j < PARAMETERS; j++) damped[j * 6] += damping * (normal[j * 6] || 1e-12);
      step.set(gradient);
      if (solveLinear(damped, step)) {
        for (let j = 0; j < PARAMETERS; j++) trial[j] = p[j] - step[j];
        trial[1] = Math.max(trial[1], 1e-10);
        trial[2] = Math.max(-STEEPEST_RHO, Math.min(STEEPEST_RHO, trial[2]));
        trial[4] = Math.max(Math.abs(trial[4]), LEAST_SIGMA);
        const next = evaluate(o, trial);
        if (next <= cost) {
          const gain = cost - next;
          p.set(trial);
          const isSmall = gain <= (o.smallGain ?? SMALL_GAIN) * cost;
          cost = next;
          damping = Math.max(damping * 0.2, 1e-12);
          if (isSmall) stop = 'small-gain';
          isImproved = !isSmall;
          break;
        }
      }
      damping *= 8;
    }
    if (!isImproved) {
      if (damping >= 1e12) stop = 'small-step';
      break;
    }
  }
  return { p, cost, iterations, stop };
}

/** Normal equations J'WJ and gradient J'Wr of the volatility residuals. */
function assemble(o: SviRawFitInput, p: Float64Array, normal: Float64Array, gradient: Float64Array): void {
  const [a, b, rho, m, sigma] = p;
  normal.fill(0);
  gradient.fill(0);
  for (let i = 0; i < o.weight.length; i++) {
    const weight = o.weight[i];
    if (!(weight > 0)) continue;
    const d = o.logMoneyness[i] - m;
    const root = Math.sqrt(d * d + sigma * sigma);
    const volatility = Math.sqrt((a + b * (rho * d + root)) / o.timeToExpiry);
    const residual = volatility - o.volatility[i];
    const scale = 0.5 / (volatility * o.timeToExpiry);
    const j0 = scale;
    const j1 = scale * (rho * d + root);
    const j2 = scale * b * d;
    const j3 = -scale * b * (rho + d / root);
    const j4 = (scale * b * sigma) / root;
    const wr = weight * residual;
    gradient[0] += wr * j0;
    gradient[1] += wr * j1;
    gradient[2] += wr * j2;
    gradient[3] += wr * j3;
    gradient[4] += wr * j4;
    normal[0] += weight * j0 * j0;
    normal[1] += weight * j0 * j1;
    normal[2] += weight * j0 * j2;
    normal[3] += weight * j0 * j3;
    normal[4] += weight * j0 * j4;
    normal[6] += weight * j1 * j1;
    normal[7] += weight * j1 * j2;
    normal[8] += weight * j1 * j3;
    normal[9] += weight * j1 * j4;
    normal[12] += weight * j2 * j2;
    normal[13] += weight * j2 * j3;
    normal[14] += weight * j2 * j4;
    normal[18] += weight * j3 * j3;
    normal[19] += weight * j3 * j4;
    normal[24] += weight * j4 * j4;
  }
  for (let row = 1; row < PARAMETERS; row++) {
    for (let column = 0; column < row; column++) normal[row * PARAMETERS + column] = normal[column * PARAMETERS + row];
  }
}
