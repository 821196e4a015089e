import { solveLinear } from '../math/index.ts';
import { ALPHA, BETA, GAMMA, garchLikelihood, MU, OMEGA } from './garch-likelihood.ts';

export type GarchModel = 'garch' | 'gjr';

/** Parameters of GARCH(1,1) or GJR, of returns as they were given. */
export interface GarchValues {
  /** Mean return of a session */
  mu: number;
  omega: number;
  alpha: number;
  beta: number;
  /** What a squared residual weighs more after a fall; 0 for GARCH(1,1) */
  gamma: number;
}

export interface GarchFit {
  model: GarchModel;
  parameters: GarchValues;
  /** One standard deviation of each, from the curvature of the likelihood; NaN at a bound */
  standardErrors: GarchValues;
  logLikelihood: number;
  /** Variance of the return after the last */
  nextVariance: number;
  /** alpha + gamma / 2 + beta: the share of a shock of variance that is left a session later, < 1 */
  persistence: number;
  /** Variance it returns to */
  longVariance: number;
}

/** Fewer returns do not settle three parameters. */
export const LEAST_GARCH_RETURNS = 100;
/** Persistence ends below 1, for the long variance would not exist. */
const MOST_PERSISTENCE = 0.9999;
const LEAST_WEIGHT = 0;
const MOST_STEPS = 200;
/** Relative gain of the log-likelihood that ends the search. */
const SMALL_GAIN = 1e-13;
const STARTS = [
  { alpha: 0.03, persistence: 0.95 },
  { alpha: 0.05, persistence: 0.98 },
  { alpha: 0.1, persistence: 0.9 },
  { alpha: 0.1, persistence: 0.97 },
  { alpha: 0.2, persistence: 0.8 },
];

/**
 * GARCH(1,1) or GJR with a mean, by maximum likelihood of normal returns.
 * @param returns at least 100, of consecutive sessions; their unit is the fit's
 * @returns undefined when there are too few, or nothing moves
 * @see Bollerslev, T. (1986). Generalized autoregressive conditional heteroskedasticity. Journal of Econometrics 31(3), 307-327.
 * @see Glosten, L. R., Jagannathan, R. & Runkle, D. E. (1993). On the relation between the expected value and the volatility of
 *   the nominal excess return on stocks. Journal of Finance 48(5), 1779-1801.
 * @see Berndt, E., Hall, B., Hall, R. & Hausman, J. (1974). Estimation and inference in nonlinear structural models. Annals of
 *   Economic and Social Measurement 3(4), 653-665: steps by outer products, before those by the curvature.
 */
export function fitGarch(returns: ArrayLike<number>, model: GarchModel): GarchFit | undefined {
  const n = returns.length;
  if (n < LEAST_GARCH_RETURNS) return undefined;
  let mean = 0;
  for (let t = 0; t < n; t++) mean += returns[t] / n;
  let variance = 0;
  for (let t = 0; t < n; t++) variance += (returns[t] - mean) ** 2 / n;
  if (!(variance > 0)) return undefined;
  // In units of their own deviation all parameters have a like size.
  const scale = Math.sqrt(variance);
  const scaled = Float64Array.from({ length: n }, (_, t) => returns[t] / scale);
  const size = model === 'gjr' ? 5 : 4;
  const tried = STARTS.map(({ alpha, persistence }) => {
    const start = new Float64Array(size);
    start.set([mean / scale, 1 - persistence, alpha, persistence - alpha]);
    return { start, value: garchLikelihood(scaled, start) };
  }).sort((a, b) => b.value - a.value);
  // From the two likeliest starts, for the likelihood of short samples may have two tops.
  const best = tried
    .slice(0, 2)
    .map(({ start }) => climb(scaled, start))
    .reduce((a, b) => (b.value > a.value ? b : a));
  return described(scaled, best, { model, scale });
}

interface Top {
  parameters: Float64Array;
  value: number;
}

/** Moves uphill by outer products, then by the curvature, until nothing is gained. */
function climb(returns: Float64Array, start: Float64Array): Top {
  const size = start.length;
  const gradient = new Float64Array(size);
  const outer = new Float64Array(size * size);
  const parameters = start.slice();
  let value = garchLikelihood(returns, parameters, { gradient, outer });
  let damping = 1e-3;
  for (let step = 0; step < MOST_STEPS; step++) {
    // Near the top the curvature is the better guide; away from it, it may point down.
    const byCurvature = step > 8 ? curvature(returns, parameters) : undefined;
    const moved = uphill(returns, { parameters, value, gradient, matrix: byCurvature ?? outer, damping });
    const next = moved ?? (byCurvature && uphill(returns, { parameters, value, gradient, matrix: outer, damping }));
    if (!next) {
      if (byCurvature) break;
      damping *= 10;
      if (damping > 1e8) break;
      continue;
    }
    const gain = next.value - value;
    parameters.set(next.parameters);
    damping = Math.max(1e-9, damping * 0.3);
    value = garchLikelihood(returns, parameters, { gradient, outer });
    if (step > 8 && gain <= SMALL_GAIN * Math.abs(value)) break;
  }
  return { parameters, value };
}

interface Place {
  parameters: Float64Array;
  value: number;
  gradient: Float64Array;
  matrix: Float64Array;
  damping: number;
}

/** A place that is higher, along the step of the matrix, which stands for minus the curvature; undefined when there is none. */
function uphill(returns: Float64Array, { parameters, value, gradient, matrix, damping }: Place): Top | undefined {
  const size = parameters.length;
  // A parameter at its bound that would leave it stays.
  const held = Array.from(parameters, (p, j) => isHeld(p, j, gradient[j]));
  const system = matrix.slice();
  const step = gradient.map((g, j) => (held[j] ? 0 : g));
  for (let j = 0; j < size; j++) {
    system[j * size + j] += damping * Math.abs(system[j * size + j]);
    if (!held[j]) continue;
    for (let k = 0; k < size; k++) system[j * size + k] = system[k * size + j] = j === k ? 1 : 0;
  }
  if (!solveLinear(system, step)) return undefined;
  for (let share = 1; share > 1e-7; share /= 2) {
    const trial = restrained(parameters.map((p, j) => p + share * step[j]));
    const trialValue = garchLikelihood(returns, trial);
    if (trialValue > value) return { parameters: trial, value: trialValue };
  }
  return undefined;
}

function isHeld(parameter: number, place: number, slope: number): boolean {
  return (place === ALPHA || place === BETA) && parameter <= LEAST_WEIGHT && slope < 0;
}

/** Within the bounds: weights not negative, variance that exists. */
function restrained(p: Float64Array): Float64Array {
  p[OMEGA] = Math.max(p[OMEGA], 1e-8);
  p[ALPHA] = Math.max(p[ALPHA], LEAST_WEIGHT);
  p[BETA] = Math.max(p[BETA], LEAST_WEIGHT);
  // After a fall the weight may not be negative either.
  if (p.length > GAMMA) p[GAMMA] = Math.max(p[GAMMA], -p[ALPHA]);
  const persistence = persistenceOf(p);
  if (persistence > MOST_PERSISTENCE) {
    const share = MOST_PERSISTENCE / persistence;
    for (const place of [ALPHA, BETA, GAMMA]) if (place < p.length) p[place] *= share;
  }
  return p;
}

function persistenceOf(p: Float64Array): number {
  return p[ALPHA] + p[BETA] + (p.length > GAMMA ? 0.5 * p[GAMMA] : 0);
}

/** Minus the second derivatives of the log-likelihood, by differences of its gradient. */
function curvature(returns: Float64Array, parameters: Float64Array): Float64Array {
  const size = parameters.length;
  const matrix = new Float64Array(size * size);
  const [up, down] = [new Float64Array(size), new Float64Array(size)];
  for (let j = 0; j < size; j++) {
    const width = 1e-5 * Math.max(Math.abs(parameters[j]), 1e-2);
    const shifted = parameters.slice();
    shifted[j] = parameters[j] + width;
    garchLikelihood(returns, shifted, { gradient: up });
    shifted[j] = parameters[j] - width;
    garchLikelihood(returns, shifted, { gradient: down });
    for (let k = 0; k < size; k++) matrix[j * size + k] = (down[k] - up[k]) / (2 * width);
  }
  for (let j = 0; j < size; j++) {
    for (let k = 0; k < j; k++) {
      const mean = 0.5 * (matrix[j * size + k] + matrix[k * size + j]);
      matrix[j * size + k] = matrix[k * size + j] = mean;
    }
  }
  return matrix;
}

function described(returns: Float64Array, top: Top, { model, scale }: { model: GarchModel; scale: number }): GarchFit {
  const { parameters, value } = top;
  const variances = new Float64Array(returns.length + 1);
  garchLikelihood(returns, parameters, { variances });
  const persistence = persistenceOf(parameters);
  const errors = standardErrors(returns, parameters);
  const named = (p: ArrayLike<number>): GarchValues => ({
    mu: p[MU] * scale,
    omega: p[OMEGA] * scale * scale,
    alpha: p[ALPHA],
    beta: p[BETA],
    gamma: model === 'gjr' ? p[GAMMA] : 0,
  });
  return {
    model,
    parameters: named(parameters),
    standardErrors: named(errors),
    // Densities of scaled returns are that much higher.
    logLikelihood: value - returns.length * Math.log(scale),
    nextVariance: variances[returns.length] * scale * scale,
    persistence,
    longVariance: (parameters[OMEGA] / (1 - persistence)) * scale * scale,
  };
}

/** Roots of the diagonal of the inverse curvature; NaN where it is no top, as at a bound. */
function standardErrors(returns: Float64Array, parameters: Float64Array): Float64Array {
  const size = parameters.length;
  const matrix = curvature(returns, parameters);
  return Float64Array.from(parameters, (_, j) => {
    const unit = new Float64Array(size);
    unit[j] = 1;
    return solveLinear(matrix.slice(), unit) && unit[j] > 0 ? Math.sqrt(unit[j]) : NaN;
  });
}
