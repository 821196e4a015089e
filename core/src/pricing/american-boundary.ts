import { solveLinear, tableErfcx, tableExp, tableLog } from '../math/index.ts';
import { type AmericanScheme, MOST_NODES, MOST_POINTS, type PutBoundary } from './american-scheme.ts';

/*
 * Exercise boundary of the American put by collocation, after Andersen, L., Lake, M. & Offengenden, D. (2016).
 * High-performance American option pricing. Journal of Computational Finance 20(1), 39-87. Symbols as there, with
 * strike 1: B(tau) boundary, X = min(1, r / q) its value just before expiry, H = ln(B)^2 the transform that is
 * nearly linear in tau (they take ln(B / X)^2, whose interpolant dips below 0 when the yield is just above the rate). Their system A asks B = f(B), from smooth pasting. Written with
 * e^(r u) n(d-) = e^((r - q) tau) e^(q u) n(d+) B / B(u), and without the term that stands on both of its sides, it is
 *   r sum of e^(q u) n(d+) / (B(u) sigma sqrt(tau - u)) du
 *     = N(d+(tau, B)) + q sum of e^(q u) (N(d+) + n(d+) / (sigma sqrt(tau - u))) du
 * or, with the yield's sum moved to the left when it is negative, earned = owed: all terms positive. Here ln(earned /
 * owed) = 0 is solved at all nodes together by Newton's method. The fixed-point iteration of the paper is cheaper a
 * round, but it does not settle when rate and yield are close and nodes are many.
 */

const INVERSE_SQRT_TWO_PI = 0.3989422804014327;
/** |d| / sqrt 2 must stay inside the tables; beyond it the density is nil. */
const LARGEST_SCORE = 37;
/** A step shrinks or stretches the distance from the strike by no more than this factor. */
const LEAST_FACTOR = 0.3;
/** Between a guess and the start of the boundary, in its logarithm. */
const LEAST_DISTANCE = 1e-6;

/**
 * Solves the boundary of a put with strike 1. Unchecked: volatility and time positive; rate > 0, or rate = 0 with a
 * negative yield (else the option is never exercised early, or between two boundaries).
 * @returns whether every node got a number and the last step left it where it was
 */
export function solvePutBoundary(
  out: PutBoundary,
  scheme: AmericanScheme,
  rate: number,
  dividendYield: number,
  volatility: number,
  timeToExpiry: number,
): boolean {
  const r = rate;
  const q = dividendYield;
  out.logStart = q > r ? Math.log(r / q) : 0;
  out.transform[scheme.boundaryNodes] = out.logStart * out.logStart;
  const { coarse } = scheme;
  if (coarse && solvePutBoundary(coarse.boundary, coarse.scheme, r, q, volatility, timeToExpiry)) {
    const nodes = coarse.scheme.boundaryNodes;
    for (let i = 0; i < scheme.boundaryNodes; i++) {
      let h = 0;
      for (let j = 0; j <= nodes; j++) h += coarse.interpolation[i * (nodes + 1) + j] * coarse.boundary.transform[j];
      setNode(out, i, Math.max(h > 0 ? Math.sqrt(h) : 0, LEAST_DISTANCE - out.logStart));
    }
  } else firstGuess(out, scheme, r, q, volatility, timeToExpiry);
  fixedPass(scheme, r, q, volatility, timeToExpiry);
  for (let iteration = 0; iteration < scheme.iterations; iteration++) {
    if (!newtonStep(out, scheme, r, q, volatility, timeToExpiry)) return false;
    if (out.lastChange < scheme.settled) return true;
  }
  // Rounding keeps the finest from settling to the last digit.
  return out.lastChange < ROUNDING;
}

/**
 * Newton steps for another market from the boundary that `out` holds.
 * @returns whether every node kept a number and the last step changed them by little
 */
export function boundaryStep(
  out: PutBoundary,
  scheme: AmericanScheme,
  market: { rate: number; dividendYield: number; volatility: number; timeToExpiry: number },
  steps: number,
): boolean {
  const { rate: r, dividendYield: q, volatility, timeToExpiry } = market;
  out.logStart = q > r ? Math.log(r / q) : 0;
  out.transform[scheme.boundaryNodes] = out.logStart * out.logStart;
  for (let i = 0; i < scheme.boundaryNodes; i++) setNode(out, i, Math.sqrt(out.transform[i]));
  fixedPass(scheme, r, q, volatility, timeToExpiry);
  for (let step = 0; step < steps; step++) {
    if (!newtonStep(out, scheme, r, q, volatility, timeToExpiry)) return false;
  }
  return out.lastChange < NEARBY;
}

/**
 * The boundary that solves the equation of Barone-Adesi, G. & Whaley, R. E. (1987, Journal of Finance 42(2), 301-320)
 * without its European terms, as a distance from the start, times a factor fitted to solved boundaries. It only saves
 * steps: what the steps reach does not depend on it.
 */
function firstGuess(out: PutBoundary, scheme: AmericanScheme, r: number, q: number, v: number, T: number): void {
  const variance = v * v;
  const drift = (r - q) / variance - 0.5;
  const start = Math.exp(out.logStart);
  for (let i = 0; i < scheme.boundaryNodes; i++) {
    const xi = scheme.xi[i];
    const tau = T * xi * xi;
    const level = r * tau > 1e-8 ? (2 * r) / -Math.expm1(-r * tau) : 2 / tau;
    const exponent = -drift - Math.sqrt(drift * drift + level / variance);
    const factor = 0.7 + 1.4 * start + (q > r ? 0 : 1.6 * (1 - xi) * (1 - xi));
    setNode(out, i, factor * Math.log1p(-1 / exponent) - out.logStart);
  }
}

/** Change of a step, on the boundary's logarithm, that is nothing but rounding. */
const ROUNDING = 1e-8;
/** The last of a few steps from a boundary nearby may change it by so much: what is left is about its square. */
const NEARBY = 1e-3;
const LOG_BOUNDARY = new Float64Array(MOST_NODES);
const DISTANCE = new Float64Array(MOST_NODES);
/*
 * Columns over all quadrature points of all nodes, filled in short passes: a small loop body is inlined whole, while one
 * long loop took three times the time. Fixed for a contract: sigma sqrt(tau - u); the part of d+ without the boundary;
 * q u and its exponential.
 */
const POINT_DEVIATION = new Float64Array(MOST_POINTS);
const POINT_DRIFT = new Float64Array(MOST_POINTS);
const POINT_YIELD = new Float64Array(MOST_POINTS);
const POINT_YIELD_FACTOR = new Float64Array(MOST_POINTS);
/** Changing with every step: sqrt H = -ln B(u), d+, the density term, 1 / B(u), the term's slope, e^(q u) N(d+), links of nodes. */
const POINT_ROOT = new Float64Array(MOST_POINTS);
const POINT_D = new Float64Array(MOST_POINTS);
const POINT_TERM = new Float64Array(MOST_POINTS);
const POINT_INVERSE = new Float64Array(MOST_POINTS);
const POINT_SLOPE = new Float64Array(MOST_POINTS);
const POINT_PER_ROOT = new Float64Array(MOST_POINTS);
const POINT_COUPLING = new Float64Array(MOST_POINTS);
const OWN = new Float64Array(MOST_NODES);
const POINT_MASS = new Float64Array(MOST_POINTS);

function fixedPass(scheme: AmericanScheme, r: number, q: number, v: number, T: number): void {
  const { boundaryNodes: n, boundaryQuadrature: l, xi, sine, cosine2 } = scheme;
  for (let i = 0; i < n; i++) {
    const tau = T * xi[i] * xi[i];
    const deviation = v * Math.sqrt(tau);
    for (let k = 0; k < l; k++) {
      const s = deviation * sine[k];
      const point = i * l + k;
      POINT_DEVIATION[point] = s;
      POINT_DRIFT[point] = ((r - q) * tau * sine[k] * sine[k]) / s + 0.5 * s;
      POINT_YIELD[point] = q * tau * cosine2[k];
      POINT_YIELD_FACTOR[point] = tableExp(q * tau * cosine2[k]);
    }
  }
}

function interpolationPass(scheme: AmericanScheme, transform: Float64Array): void {
  const { boundaryNodes: n, boundaryQuadrature: l, interpolation } = scheme;
  const points = n * l;
  for (let point = 0, row = 0; point < points; point++) {
    let h = 0;
    for (let j = 0; j <= n; j++) h += interpolation[row++] * transform[j];
    const root = h > 0 ? Math.sqrt(h) : 0;
    POINT_ROOT[point] = root;
    POINT_PER_ROOT[point] = root > 0 ? 1 / root : 0;
  }
}

function termPass(scheme: AmericanScheme): void {
  const { boundaryNodes: n, boundaryQuadrature: l, weight } = scheme;
  for (let i = 0; i < n; i++) {
    const distance = DISTANCE[i];
    for (let k = 0; k < l; k++) {
      const point = i * l + k;
      const root = POINT_ROOT[point];
      const s = POINT_DEVIATION[point];
      const d = (root - distance) / s + POINT_DRIFT[point];
      const isNear = Math.abs(d) < LARGEST_SCORE;
      POINT_D[point] = d;
      POINT_INVERSE[point] = tableExp(root);
      const term = isNear ? (weight[k] * tableExp(POINT_YIELD[point] - 0.5 * d * d)) / s : 0;
      POINT_TERM[point] = term;
      POINT_SLOPE[point] = term * (d / s - 1);
    }
  }
}

/** Needs the term pass; e^(q u) n(d+) comes from there. */
function massPass(scheme: AmericanScheme): void {
  const { boundaryNodes: n, boundaryQuadrature: l, weight } = scheme;
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < l; k++) {
      const point = i * l + k;
      const d = POINT_D[point];
      const score = Math.abs(d) * Math.SQRT1_2;
      const term = POINT_TERM[point];
      const tail = term > 0 ? 0.5 * term * POINT_DEVIATION[point] * tableErfcx(score) : 0;
      POINT_MASS[point] = d < 0 ? tail : weight[k] * POINT_YIELD_FACTOR[point] - tail;
    }
  }
}

/** Derivative of each node's residual by the logarithm of the boundary at every node. */
function jacobianPass(scheme: AmericanScheme): void {
  const { boundaryNodes: n, boundaryQuadrature: l, interpolation, jacobian } = scheme;
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++) {
      let sum = 0;
      for (let point = i * l, at = i * l * (n + 1) + j; point < (i + 1) * l; point++, at += n + 1) {
        sum += POINT_COUPLING[point] * interpolation[at];
      }
      jacobian[i * n + j] = sum * DISTANCE[j];
    }
    jacobian[i * n + i] += OWN[i];
  }
}

/** One Newton step for all nodes; false when a number is lost. */
function newtonStep(out: PutBoundary, scheme: AmericanScheme, r: number, q: number, v: number, T: number): boolean {
  const { boundaryNodes: n, boundaryQuadrature: l, xi, jacobian, residual } = scheme;
  interpolationPass(scheme, out.transform);
  termPass(scheme);
  if (q !== 0) massPass(scheme);
  for (let i = 0; i < n; i++) {
    const tau = T * xi[i] * xi[i];
    const deviation = v * Math.sqrt(tau);
    const dPlus = (LOG_BOUNDARY[i] + (r - q) * tau) / deviation + 0.5 * deviation;
    if (Number.isNaN(dPlus)) return false;
    let perBoundary = 0;
    let plain = 0;
    let mass = 0;
    let perBoundarySlope = 0;
    let plainSlope = 0;
    for (let point = i * l; point < (i + 1) * l; point++) {
      const term = POINT_TERM[point];
      const inverse = POINT_INVERSE[point];
      const slope = POINT_SLOPE[point];
      perBoundary += term * inverse;
      plain += term;
      perBoundarySlope += slope * inverse;
      plainSlope += slope;
      mass += POINT_MASS[point];
    }
    if (q === 0) mass = 0;
    const scale = tau * INVERSE_SQRT_TWO_PI;
    // Far from the strike, as near expiry when the yield exceeds the rate, the strike's own terms vanish.
    const isNear = Math.abs(dPlus) < LARGEST_SCORE;
    const gaussian = isNear ? tableExp(-0.5 * dPlus * dPlus) : 0;
    const own = (INVERSE_SQRT_TWO_PI * gaussian) / deviation;
    const tail = isNear ? 0.5 * gaussian * tableErfcx(Math.abs(dPlus) * Math.SQRT1_2) : 0;
    const cdf = dPlus < 0 ? tail : 1 - tail;
    const carried = q === 0 ? 0 : q * (tau * mass + scale * plain);
    const earned = r * scale * perBoundary - (q < 0 ? carried : 0);
    const owed = cdf + (q > 0 ? carried : 0);
    const ratio = earned / owed;
    if (!(ratio > 1e-200 && ratio < 1e200)) return false;
    residual[i] = -tableLog(ratio);
    const perEarned = scale / earned;
    const perOwed = q > 0 ? (scale * q) / owed : 0;
    const yieldEarned = q < 0 ? q : 0;
    for (let point = i * l; point < (i + 1) * l; point++) {
      POINT_COUPLING[point] =
        POINT_SLOPE[point] * POINT_PER_ROOT[point] * (perEarned * (r * POINT_INVERSE[point] - yieldEarned) - perOwed);
    }
    OWN[i] =
      perEarned * (yieldEarned * plainSlope - r * (perBoundarySlope + perBoundary)) - own / owed + perOwed * plainSlope;
  }
  jacobianPass(scheme);
  if (!solveLinear(jacobian, residual)) return false;
  let lastChange = 0;
  for (let i = 0; i < n; i++) {
    // The boundary stays below the strike. (Its nodes may pass X a little: forbidding that makes the steps circle.)
    const distance = Math.min(
      Math.max(DISTANCE[i] - residual[i], LEAST_FACTOR * DISTANCE[i]),
      DISTANCE[i] / LEAST_FACTOR,
    );
    if (!(distance < Infinity)) return false;
    lastChange = Math.max(lastChange, Math.abs(distance - DISTANCE[i]));
    setNode(out, i, distance);
  }
  out.lastChange = lastChange;
  return true;
}

function setNode(out: PutBoundary, i: number, distance: number): void {
  DISTANCE[i] = distance;
  LOG_BOUNDARY[i] = -distance;
  out.transform[i] = distance * distance;
}
