/*
 * Finite differences for what no closed form or boundary equation serves: known cash dividends, the American normal
 * model, and puts with two exercise boundaries. One equation covers all:
 *   V_t + a(S)^2 V_SS / 2 + m(S) V_S - r V = 0,  a = sigma S, m = (r - q) S  or  a = sigma, m = 0 (normal model)
 * on a grid S = K + c sinh(xi) with equal steps of xi, dense around the strike and reaching S = 0. Crank-Nicolson in
 * time, with two implicit steps in halves after the payoff and after each dividend (Rannacher), steps growing with the
 * square of the time gone; early exercise by policy iteration; two grids, extrapolated.
 * See Rannacher, R. (1984). Finite element solution of diffusion problems with irregular data. Numerische Mathematik 43,
 * 309-327; Reisinger, C. & Witte, J. H. (2012). On the use of policy iteration as an easy way of pricing American
 * options. SIAM Journal on Financial Mathematics 3(1), 459-478; Tavella, D. & Randall, C. (2000). Pricing Financial
 * Instruments, chapter 5 (the grid).
 */

import { BackwardSolver } from './backward-solver.ts';
import {
  cubicAt,
  type Grid,
  gridOf,
  type GridShape,
  gridShapeOf,
  interpolate,
  PREMIUM_REACH,
  readAt,
} from './finite-difference-grid.ts';
import type { FiniteDifferenceProblem, FiniteDifferenceResult, GridSize } from './finite-difference-problem.ts';

/**
 * Price with derivatives, extrapolated from two grids. Its error falls with the fourth power of the step away from the
 * exercise boundary, with the second power next to it.
 */
export function solveFiniteDifferences(
  o: FiniteDifferenceProblem,
  size: GridSize,
  shape: GridShape = gridShapeOf(o),
): FiniteDifferenceResult {
  const coarse = solveOnGrid(o, size, shape);
  const fine = solveOnGrid(o, { space: 2 * size.space, time: 2 * size.time }, shape);
  const extrapolate = (name: keyof FiniteDifferenceResult) => fine[name] + (fine[name] - coarse[name]) / 3;
  const price = extrapolate('price');
  const exercise = o.isAmerican ? Math.max((o.isCall ? 1 : -1) * (o.spot - o.strike), 0) : 0;
  return {
    price: Math.max(price, exercise),
    delta: extrapolate('delta'),
    gamma: extrapolate('gamma'),
    speed: extrapolate('speed'),
  };
}

/**
 * What early exercise is worth at every spot: the American less the European value on one grid, whose errors fall out of
 * the difference, with a cubic between its nodes; beyond the grid that of its end.
 * @param o `isAmerican` and `spot` are not read
 */
export function solvePremium(
  o: Omit<FiniteDifferenceProblem, 'isAmerican' | 'spot'>,
  size: GridSize,
): (spot: number) => number {
  const american = { ...o, spot: o.strike, isAmerican: true };
  const grid = gridOf(o.strike, gridShapeOf(american, PREMIUM_REACH), size.space);
  const { values, european } = valuesOn(grid, american, size, true);
  const premium = values.map((value, i) => Math.max(0, value - european[i]));
  const { spots } = grid;
  const last = spots.length - 1;
  return (spot) => Math.max(0, interpolate(premium, grid, Math.min(Math.max(spot, spots[0]), spots[last])));
}

function solveOnGrid(o: FiniteDifferenceProblem, size: GridSize, shape: GridShape): FiniteDifferenceResult {
  const grid = gridOf(o.strike, shape, size.space);
  return readAt(valuesOn(grid, o, size).values, grid, o.spot, grid.spots.length);
}

/** Values today at every node; on demand those of the same contract without early exercise, stepped alongside. */
function valuesOn(
  grid: Grid,
  o: FiniteDifferenceProblem,
  size: GridSize,
  withEuropean = false,
): { values: Float64Array; european: Float64Array } {
  const { spots } = grid;
  const sign = o.isCall ? 1 : -1;
  const payoff = spots.map((s) =>
    o.isDigital ? (sign * (s - o.strike) > 0 ? 1 : 0) : Math.max(sign * (s - o.strike), 0),
  );
  const solver = new BackwardSolver(o, spots, payoff);
  let values: Float64Array = payoff.slice();
  // The mean of the payoff over the cell of the strike keeps the error of the kink regular in the step.
  const k = grid.strikeIndex;
  const cell = 0.5 * (spots[k + 1] - spots[k - 1]);
  const inside = 0.5 * (o.isCall ? spots[k + 1] - o.strike : o.strike - spots[k - 1]);
  values[k] = o.isDigital ? inside / cell : (0.5 * inside * inside) / cell;
  let european: Float64Array = withEuropean ? values.slice() : NONE;
  const dates = o.dividends.filter((d) => d.amount > 0).sort((a, b) => b.time - a.time);
  let remaining = o.timeToExpiry;
  for (const dividend of [...dates, undefined]) {
    const until = dividend?.time ?? 0;
    const span = remaining - until;
    if (span > 0) {
      const share = Math.sqrt(span / o.timeToExpiry);
      const steps = Math.max(Math.ceil(size.time * share), size.leastSteps ?? 8);
      solver.march(values, european, { remaining, span, steps });
    }
    remaining = until;
    if (!dividend) break;
    values = afterDividend(values, grid, dividend.amount, o.isAmerican ? payoff : undefined);
    if (withEuropean) european = afterDividend(european, grid, dividend.amount);
  }
  return { values, european };
}

const NONE = new Float64Array(0);

/** Value just before the ex-date, V(S) = V(max(S - amount, 0)) after it, or exercise. */
function afterDividend(values: Float64Array, grid: Grid, amount: number, payoff?: Float64Array): Float64Array {
  const { spots } = grid;
  const out = new Float64Array(spots.length);
  let below = 0;
  for (let i = 0; i < spots.length; i++) {
    const spot = Math.max(spots[i] - amount, spots[0]);
    while (below + 1 < spots.length && spots[below + 1] <= spot) below++;
    const held = cubicAt(values, spots, below, spot);
    out[i] = payoff && payoff[i] > held ? payoff[i] : held;
  }
  return out;
}
