import { leastSquares } from '../math/index.ts';
import { gridOf, outerRange, STEEPEST_WING } from './arbitrage.ts';
import { clearedSvi } from './clear-svi.ts';
import { durrleman, type Smile, smileVolatility } from './smile.ts';
import type { SmilePoint } from './smile-points.ts';
import { type SviRawParameters, sviRawSmile } from './svi-raw.ts';

export interface ArbitrageFreeInput {
  points: SmilePoint[];
  timeToExpiry: number;
  /** The fit without constraints */
  start: SviRawParameters;
  /** Of the points' log-moneyness */
  range: readonly [number, number];
  /** The nearer expiry's smile, and where it must not be crossed */
  near?: { smile: Smile; range: readonly [number, number] };
}

/** Weights of the penalties, one run after the other, against mean squared errors in volatility points. */
const PENALTIES = [3, 100];
/** Steps of each run: the rest of the way gains nothing that shows. */
const STEPS = 20;
/** Penalties pull to slightly inside the limits, so that what is left of them is no arbitrage. */
const BUTTERFLY_MARGIN = 1e-3;
const CALENDAR_MARGIN = 2e-4;
const STEEPEST_RHO = 0.999;

/**
 * Raw SVI nearest to the points among those free of butterfly arbitrage and not below the nearer expiry: least squares
 * with penalties on Durrleman's function, on the difference of total variances and on the wings, growing; what little is
 * left is taken away by flattening and raising the smile.
 * @returns parameters without arbitrage on the grids of {@link butterflyArbitrage} and {@link calendarArbitrage}
 */
export function fitSviArbitrageFree(o: ArbitrageFreeInput): SviRawParameters {
  const flattened = clearedSvi(o.start, o);
  const first = clearedSvi(improved(o.start, o), o);
  if (weightedError(first, o) < weightedError(flattened, o)) return first;
  // The fit without constraints was so far out that the steps lost their way: a second run starts where it is made free
  // of arbitrage at the cost of its shape, which is also the answer if that ends no better.
  const second = clearedSvi(improved(flattened, o), o);
  return weightedError(second, o) < weightedError(flattened, o) ? second : flattened;
}

/** Weighted squared error in volatility. */
function weightedError(p: SviRawParameters, { points, timeToExpiry }: ArbitrageFreeInput): number {
  const smile = sviRawSmile(p, timeToExpiry);
  return points.reduce((sum, q) => sum + ((smileVolatility(smile, q.k) - q.volatility) / q.halfWidth) ** 2, 0);
}

function improved(start: SviRawParameters, o: ArbitrageFreeInput): SviRawParameters {
  const { points, timeToExpiry } = o;
  const outer = gridOf(outerRange(o.range));
  const common = o.near ? gridOf(o.near.range) : new Float64Array(0);
  const floor = common.map((k) => (o.near as { smile: Smile }).smile.totalVariance(k) * (1 + CALENDAR_MARGIN));
  const total = points.reduce((sum, p) => sum + p.halfWidth ** -2, 0);
  // Residuals in volatility points.
  const weight = points.map((p) => 100 / (p.halfWidth * Math.sqrt(total)));
  const p = Float64Array.of(start.a, start.b, start.rho, start.m, start.sigma);
  const span = o.range[1] - o.range[0] || 0.1;
  const level = Math.max(...points.map((q) => q.volatility ** 2 * timeToExpiry));
  for (const penalty of PENALTIES) {
    leastSquares(
      {
        residuals: points.length + outer.length + common.length + 1,
        steps: [1e-6 * level, 1e-6, 1e-6, 1e-6 * span, 1e-6 * span],
        restrain: (q) => {
          q[1] = Math.max(q[1], 1e-10);
          q[2] = Math.max(-STEEPEST_RHO, Math.min(STEEPEST_RHO, q[2]));
          q[4] = Math.max(q[4], 1e-4);
        },
        evaluate: (out, q) => {
          const smile = sviRawSmile(parametersOf(q), timeToExpiry);
          let at = 0;
          for (let i = 0; i < points.length; i++) {
            const w = smile.totalVariance(points[i].k);
            if (!(w > 0)) return false;
            out[at++] = weight[i] * (Math.sqrt(w / timeToExpiry) - points[i].volatility);
          }
          for (const k of outer) {
            if (!(smile.totalVariance(k) > 0)) return false;
            out[at++] = penalty * Math.max(0, BUTTERFLY_MARGIN - durrleman(smile, k));
          }
          for (let i = 0; i < common.length; i++) {
            out[at++] = (penalty * Math.max(0, floor[i] - smile.totalVariance(common[i]))) / (0.1 * floor[i]);
          }
          out[at] = penalty * Math.max(0, q[1] * (1 + Math.abs(q[2])) - STEEPEST_WING);
          return true;
        },
      },
      p,
      STEPS,
    );
  }
  return parametersOf(p);
}

function parametersOf([a, b, rho, m, sigma]: Float64Array): SviRawParameters {
  return { a, b, rho, m, sigma };
}
