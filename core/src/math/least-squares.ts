import { solveLinear } from './solve-linear.ts';

export interface LeastSquaresProblem {
  /** How many residuals there are */
  residuals: number;
  /** Writes the residuals at a parameter vector; returns false where they are not defined */
  evaluate(out: Float64Array, parameters: Float64Array): boolean;
  /** Moves a parameter vector into its bounds, in place */
  restrain?(parameters: Float64Array): void;
  /** Size of a step over which each parameter's derivative is taken */
  steps: ArrayLike<number>;
}

export interface LeastSquaresResult {
  /** Sum of squared residuals */
  cost: number;
  iterations: number;
  stop: 'small-gain' | 'no-descent' | 'iteration-limit' | 'not-defined';
}

const FIRST_DAMPING = 1e-3;
const MOST_DAMPING = 1e10;
/** Relative gain of the cost under which another step changes nothing that matters. */
const SMALL_GAIN = 1e-6;

/**
 * Parameters that minimise a sum of squares, improved in place, with derivatives by differences.
 * @param parameters start, overwritten
 * @see Marquardt, D. W. (1963). An algorithm for least-squares estimation of nonlinear parameters. SIAM J. 11(2), 431-441.
 */
export function leastSquares(
  problem: LeastSquaresProblem,
  parameters: Float64Array,
  maxIterations = 60,
): LeastSquaresResult {
  const n = parameters.length;
  const m = problem.residuals;
  let residual = new Float64Array(m);
  let trialResidual = new Float64Array(m);
  const jacobian = new Float64Array(m * n);
  const moved = new Float64Array(m);
  const normal = new Float64Array(n * n);
  const gradient = new Float64Array(n);
  if (!problem.evaluate(residual, parameters)) return { cost: Infinity, iterations: 0, stop: 'not-defined' };
  let cost = sumOfSquares(residual);
  let damping = FIRST_DAMPING;
  for (let iteration = 1; iteration <= maxIterations; iteration++) {
    for (let j = 0; j < n; j++) {
      const shifted = parameters.slice();
      shifted[j] += problem.steps[j];
      let step = problem.steps[j];
      if (!problem.evaluate(moved, shifted)) {
        step = -step;
        shifted[j] = parameters[j] + step;
        if (!problem.evaluate(moved, shifted)) moved.set(residual);
      }
      for (let i = 0; i < m; i++) jacobian[i * n + j] = (moved[i] - residual[i]) / step;
    }
    normalEquations(jacobian, residual, normal, gradient);
    let gain = -1;
    while (damping < MOST_DAMPING) {
      const matrix = normal.slice();
      const step = gradient.slice();
      for (let j = 0; j < n; j++) matrix[j * n + j] += damping * (normal[j * n + j] || 1e-12);
      if (solveLinear(matrix, step)) {
        const trial = parameters.map((p, j) => p - step[j]);
        problem.restrain?.(trial);
        const trialCost = problem.evaluate(trialResidual, trial) ? sumOfSquares(trialResidual) : Infinity;
        if (trialCost < cost) {
          gain = cost - trialCost;
          parameters.set(trial);
          cost = trialCost;
          [residual, trialResidual] = [trialResidual, residual];
          damping *= 0.2;
          break;
        }
      }
      damping *= 6;
    }
    if (gain < 0) return { cost, iterations: iteration, stop: 'no-descent' };
    if (gain <= SMALL_GAIN * cost) return { cost, iterations: iteration, stop: 'small-gain' };
  }
  return { cost, iterations: maxIterations, stop: 'iteration-limit' };
}

function sumOfSquares(values: Float64Array): number {
  let sum = 0;
  for (const v of values) sum += v * v;
  return sum;
}

function normalEquations(j: Float64Array, r: Float64Array, normal: Float64Array, gradient: Float64Array): void {
  const n = gradient.length;
  normal.fill(0);
  gradient.fill(0);
  for (let i = 0; i < r.length; i++) {
    for (let a = 0; a < n; a++) {
      const left = j[i * n + a];
      if (left === 0) continue;
      gradient[a] += left * r[i];
      for (let b = a; b < n; b++) normal[a * n + b] += left * j[i * n + b];
    }
  }
  for (let a = 0; a < n; a++) for (let b = 0; b < a; b++) normal[a * n + b] = normal[b * n + a];
}
