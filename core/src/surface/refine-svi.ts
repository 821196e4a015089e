import {
  copyParameters,
  SVI_EQUATIONS,
  SVI_PARAMETERS,
  type SviFitPoints,
  sviNormalEquations,
} from './svi-fit-points.ts';

/** How a run ended: `floor` when no more than rounding is left of the error, `slow` when a step gained too little. */
export type SviFitStop = 'small-step' | 'small-gain' | 'slow' | 'floor' | 'iteration-limit';

export interface SviRunOptions {
  /** Relative gain of the error under which to stop, when the bottom is near by the model of the step */
  smallGain: number;
  /** Relative gain of a step that was taken under which to stop, near or not; 0 to go on */
  slowGain: number;
  mostIterations: number;
}

export interface SviRun {
  /** Weighted squared error in total deviation */
  cost: number;
  iterations: number;
  stop: SviFitStop;
}

/** With the tilt at its bound the steps are small, and so are their gains, long before the valley rises. */
const AT_BOUND = 0.01;
const FIRST_DAMPING = 1e-4;
const LEAST_DAMPING = 1e-12;
const MOST_DAMPING = 1e12;
/** Only with a damping below this share of the gain does a small step say that the bottom is near, and not that it was held back. */
const FREE = 0.1;
/** Raw SVI bends no sharper than this over log-moneyness; far below the distance between strikes. */
const LEAST_SIGMA = 1e-4;
const LEAST_SLOPE = 1e-10;
export const STEEPEST_RHO = 0.9999;
/** Mean squared error in deviation: 3e-15 a point, some ten roundings of a deviation. */
const FLOOR = 1e-29;

const TRIAL = new Float64Array(SVI_PARAMETERS);
const STEP = new Float64Array(SVI_PARAMETERS);
let current = new Float64Array(SVI_EQUATIONS);
let next = new Float64Array(SVI_EQUATIONS);

/**
 * Levenberg-Marquardt on all five parameters, in place, with the analytic Jacobian.
 * @see Marquardt, D. W. (1963). An algorithm for least-squares estimation of nonlinear parameters. SIAM J. 11(2), 431-441.
 */
export function refineSvi(
  points: SviFitPoints,
  p: Float64Array,
  { smallGain, slowGain, mostIterations }: SviRunOptions,
): SviRun {
  let cost = sviNormalEquations(points, p, current);
  const floor = FLOOR * points.totalWeight;
  let damping = FIRST_DAMPING;
  let iterations = 0;
  while (iterations < mostIterations && cost < Infinity) {
    if (cost <= floor) return { cost, iterations, stop: 'floor' };
    iterations++;
    holdAtBounds(p);
    let gain = -1;
    while (damping < MOST_DAMPING) {
      if (dampedStep(damping)) {
        let promise = 0;
        for (let j = 0; j < SVI_PARAMETERS; j++) {
          promise += STEP[j] * current[15 + j];
          TRIAL[j] = p[j] - STEP[j];
        }
        keepInside(TRIAL);
        if (promise <= smallGain * cost && damping <= FREE * smallGain) {
          copyParameters(p, TRIAL);
          return { cost, iterations, stop: 'small-gain' };
        }
        const trialCost = sviNormalEquations(points, TRIAL, next);
        if (trialCost <= cost) {
          gain = cost - trialCost;
          break;
        }
      }
      damping *= 8;
    }
    if (!(gain > 0)) return { cost, iterations, stop: 'small-step' };
    copyParameters(p, TRIAL);
    cost -= gain;
    const swap = current;
    current = next;
    next = swap;
    const patience = Math.abs(p[2]) >= STEEPEST_RHO ? AT_BOUND : 1;
    if (gain < patience * slowGain * cost) return { cost, iterations, stop: 'slow' };
    damping = Math.max(damping * 0.1, LEAST_DAMPING);
  }
  return { cost, iterations, stop: 'iteration-limit' };
}

/** A parameter that lies at its bound and wants to go beyond it stays there, and the others are solved without it. */
function holdAtBounds(p: Float64Array): void {
  // A step goes against the gradient.
  if (p[1] <= LEAST_SLOPE && current[16] > 0) hold(1);
  if (p[2] >= STEEPEST_RHO && current[17] < 0) hold(2);
  if (p[2] <= -STEEPEST_RHO && current[17] > 0) hold(2);
  if (p[4] <= LEAST_SIGMA && current[19] > 0) hold(4);
}

/** Takes parameter j out of the equations: its row and column but for the diagonal, and its gradient. */
function hold(j: number): void {
  for (let row = 0; row < SVI_PARAMETERS; row++) {
    if (row !== j) current[entryOf(Math.min(row, j), Math.max(row, j))] = 0;
  }
  current[15 + j] = 0;
}

/** Place of an entry in the upper triangle by rows. */
function entryOf(row: number, column: number): number {
  return row * SVI_PARAMETERS - (row * (row - 1)) / 2 + column - row;
}

function keepInside(p: Float64Array): void {
  p[1] = Math.max(p[1], LEAST_SLOPE);
  p[2] = Math.max(-STEEPEST_RHO, Math.min(STEEPEST_RHO, p[2]));
  p[4] = Math.max(Math.abs(p[4]), LEAST_SIGMA);
}

/**
 * Solves (N + damping diag N) step = gradient by L D L'; false when the matrix is not positive definite. Written out,
 * since the loops took a third of the fit's time. u is L times D.
 */
function dampedStep(damping: number): boolean {
  const a0 = current[0];
  const d0 = a0 + damping * (a0 || 1e-12);
  if (!(d0 > 0)) return false;
  const i0 = 1 / d0;
  const u10 = current[1];
  const l10 = u10 * i0;
  const u20 = current[2];
  const l20 = u20 * i0;
  const u30 = current[3];
  const l30 = u30 * i0;
  const u40 = current[4];
  const l40 = u40 * i0;
  const a1 = current[5];
  const d1 = a1 + damping * (a1 || 1e-12) - l10 * u10;
  if (!(d1 > 0)) return false;
  const i1 = 1 / d1;
  const u21 = current[6] - l10 * u20;
  const l21 = u21 * i1;
  const u31 = current[7] - l10 * u30;
  const l31 = u31 * i1;
  const u41 = current[8] - l10 * u40;
  const l41 = u41 * i1;
  const a2 = current[9];
  const d2 = a2 + damping * (a2 || 1e-12) - l20 * u20 - l21 * u21;
  if (!(d2 > 0)) return false;
  const i2 = 1 / d2;
  const u32 = current[10] - l20 * u30 - l21 * u31;
  const l32 = u32 * i2;
  const u42 = current[11] - l20 * u40 - l21 * u41;
  const l42 = u42 * i2;
  const a3 = current[12];
  const d3 = a3 + damping * (a3 || 1e-12) - l30 * u30 - l31 * u31 - l32 * u32;
  if (!(d3 > 0)) return false;
  const i3 = 1 / d3;
  const u43 = current[13] - l30 * u40 - l31 * u41 - l32 * u42;
  const l43 = u43 * i3;
  const a4 = current[14];
  const d4 = a4 + damping * (a4 || 1e-12) - l40 * u40 - l41 * u41 - l42 * u42 - l43 * u43;
  if (!(d4 > 0)) return false;
  const i4 = 1 / d4;
  const y0 = current[15];
  const y1 = current[16] - l10 * y0;
  const y2 = current[17] - l20 * y0 - l21 * y1;
  const y3 = current[18] - l30 * y0 - l31 * y1 - l32 * y2;
  const y4 = current[19] - l40 * y0 - l41 * y1 - l42 * y2 - l43 * y3;
  const x4 = y4 * i4;
  const x3 = y3 * i3 - l43 * x4;
  const x2 = y2 * i2 - l32 * x3 - l42 * x4;
  const x1 = y1 * i1 - l21 * x2 - l31 * x3 - l41 * x4;
  const x0 = y0 * i0 - l10 * x1 - l20 * x2 - l30 * x3 - l40 * x4;
  STEP[0] = x0;
  STEP[1] = x1;
  STEP[2] = x2;
  STEP[3] = x3;
  STEP[4] = x4;
  return true;
}
