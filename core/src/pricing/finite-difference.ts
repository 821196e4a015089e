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

import { BackwardSolver, type SteppedValues, type Tangent } from './backward-solver.ts';
import {
  cubicWeights,
  curveThrough,
  firstOfFour,
  type Grid,
  gridOf,
  type GridShape,
  gridShapeOf,
  interpolate,
  PREMIUM_REACH,
  readAt,
  type ReadBesideExercise,
  readBesideExercise,
} from './finite-difference-grid.ts';
import type { FiniteDifferenceProblem, FiniteDifferenceResult, GridSize } from './finite-difference-problem.ts';
import { type GridWorkspace, gridWorkspace } from './grid-workspace.ts';

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
  return extrapolated(o, coarse, fine);
}

/** What two grids tell together, the finer of twice as many steps. */
function extrapolated(o: FiniteDifferenceProblem, coarse: GridReading, fine: GridReading): FiniteDifferenceResult {
  // Among exercised nodes the value is known; what the grids have over it is their error.
  const price = fine.slopes.isExercised ? -Infinity : fine.price + (fine.price - coarse.price) / 3;
  const exercise = o.isAmerican ? Math.max((o.isCall ? 1 : -1) * (o.spot - o.strike), 0) : 0;
  // Next to the boundary the error of a derivative is no power of the step, and extrapolating would enlarge it.
  const isBeside = fine.slopes.isOneSided || coarse.slopes.isOneSided;
  const slope = (name: 'delta' | 'gamma' | 'speed') =>
    fine.slopes[name] + (isBeside ? 0 : (fine.slopes[name] - coarse.slopes[name]) / 3);
  return { price: Math.max(price, exercise), delta: slope('delta'), gamma: slope('gamma'), speed: slope('speed') };
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
  const { values, european } = valuesOn(grid, american, size, { withEuropean: true });
  const premium = new Float64Array(values.length);
  for (let i = 0; i < premium.length; i++) premium[i] = Math.max(0, values[i] - european[i]);
  return curveThrough(premium, grid.spots);
}

/** Value and first Greeks with the derivatives by volatility and rate, stepped along on the same grids. */
export function solveFirstGreeks(
  o: FiniteDifferenceProblem,
  size: GridSize,
  shape: GridShape = gridShapeOf(o),
): FiniteDifferenceResult & { vega: number; rho: number; vanna: number } {
  const coarse = solveOnGrid(o, size, shape);
  const finer = { space: 2 * size.space, time: 2 * size.time };
  const grid = gridOf(o.strike, shape, finer.space);
  const [vega, rho]: Tangent[] = (['volatility', 'rate'] as const).map((by) => ({
    by,
    values: new Float64Array(grid.spots.length),
  }));
  const { values, payoff } = valuesOn(grid, o, finer, { tangents: [vega, rho] });
  const fine = readingOf(values, payoff, grid, o);
  const byVolatility = readAt(vega.values, grid, o.spot, grid.spots.length);
  return {
    ...extrapolated(o, coarse, fine),
    // Next to the boundary their error is no power of the step, and extrapolating would enlarge it.
    vega: byVolatility.price,
    vanna: byVolatility.delta,
    rho: interpolate(rho.values, grid, o.spot),
  };
}

/** Value at a spot by the polynomial around it, and its slopes by what is held there. */
interface GridReading {
  price: number;
  slopes: ReadBesideExercise;
}

function solveOnGrid(o: FiniteDifferenceProblem, size: GridSize, shape: GridShape): GridReading {
  const grid = gridOf(o.strike, shape, size.space);
  const { values, payoff } = valuesOn(grid, o, size);
  return readingOf(values, payoff, grid, o);
}

function readingOf(values: Float64Array, payoff: Float64Array, grid: Grid, o: FiniteDifferenceProblem): GridReading {
  const around = readAt(values, grid, o.spot, grid.spots.length);
  const slopes =
    o.isAmerican && !o.isDigital
      ? readBesideExercise(values, payoff, grid, o)
      : { ...around, isOneSided: false, isExercised: false };
  return { price: around.price, slopes };
}

/** Values today at every node; on demand those of the same contract without early exercise, and tangents, stepped alongside. */
function valuesOn(
  grid: Grid,
  o: FiniteDifferenceProblem,
  size: GridSize,
  along: { withEuropean?: boolean; tangents?: readonly Tangent[] } = {},
): { values: Float64Array; european: Float64Array; payoff: Float64Array } {
  const { spots } = grid;
  const work = gridWorkspace(spots.length);
  const { payoff, values } = work;
  const { strike, isCall, isDigital = false } = o;
  for (let i = 0; i < spots.length; i++) {
    const gain = isCall ? spots[i] - strike : strike - spots[i];
    payoff[i] = isDigital ? (gain > 0 ? 1 : 0) : Math.max(gain, 0);
  }
  const solver = new BackwardSolver(o, spots, work);
  values.set(payoff);
  // The mean of the payoff over the cell of the strike keeps the error of the kink regular in the step.
  const k = grid.strikeIndex;
  const cell = 0.5 * (spots[k + 1] - spots[k - 1]);
  const inside = 0.5 * (o.isCall ? spots[k + 1] - o.strike : o.strike - spots[k - 1]);
  values[k] = o.isDigital ? inside / cell : (0.5 * inside * inside) / cell;
  const { withEuropean = false, tangents = [] } = along;
  const european = withEuropean ? work.european : NONE;
  if (withEuropean) european.set(values);
  const stepped: SteppedValues = { values, european, tangents };
  const dates = o.dividends.filter((d) => d.amount > 0).sort((a, b) => b.time - a.time);
  let remaining = o.timeToExpiry;
  let fallenBy: number | undefined;
  for (const dividend of [...dates, undefined]) {
    const until = dividend?.time ?? 0;
    const span = remaining - until;
    if (span > 0) {
      const share = Math.sqrt(span / o.timeToExpiry);
      const steps = Math.max(Math.ceil(size.time * share), size.leastSteps ?? 8);
      solver.march(stepped, { remaining, span, steps });
    }
    remaining = until;
    if (!dividend) continue;
    if (fallenBy !== dividend.amount) setFall(work, spots, dividend.amount);
    fallenBy = dividend.amount;
    takeDividend(stepped, grid, work, o.isAmerican);
  }
  return { ...stepped, payoff };
}

/** Values just before an ex-date, V(S) = V(max(S - amount, 0)) after it, or exercise. */
function takeDividend(stepped: SteppedValues, grid: Grid, work: GridWorkspace, isAmerican: boolean): void {
  const { values, european, tangents } = stepped;
  const { held, payoff } = work;
  if (european.length > 0) {
    setFallen(held, european, work);
    european.set(held);
  }
  setFallen(held, values, work);
  for (let i = 0; i < held.length; i++) values[i] = isAmerican && payoff[i] > held[i] ? payoff[i] : held[i];
  for (const { values: tangent } of tangents) {
    const before = tangent.slice();
    setFallen(tangent, before, work);
    if (isAmerican) cutAtExercise(tangent, grid, (i) => payoff[i] - held[i]);
  }
}

const NONE = new Float64Array(0);

/**
 * Takes a tangent away where the option is exercised: there the value no longer depends on the market. What jumps so is
 * counted by the share of a node's cell on either side of the jump, as the mean over the cell.
 * @param gain what exercise brings more than holding, by node
 */
function cutAtExercise(tangent: Float64Array, { spots }: Grid, gain: (i: number) => number): void {
  const last = spots.length - 1;
  const kept = (i: number) => (gain(i) > 0 ? 0 : 1);
  const share = Float64Array.from(spots, (_, i) => kept(i));
  for (let i = 0; i < last; i++) {
    if (kept(i) === kept(i + 1)) continue;
    const crossing = spots[i] + ((spots[i + 1] - spots[i]) * gain(i)) / (gain(i) - gain(i + 1));
    const middle = 0.5 * (spots[i] + spots[i + 1]);
    const node = crossing < middle ? i : i + 1;
    const cell = 0.5 * (spots[Math.min(node + 1, last)] - spots[Math.max(node - 1, 0)]);
    const over = Math.abs(crossing - middle) / cell;
    share[node] += kept(node) === 1 ? -over : over;
  }
  for (let i = 0; i <= last; i++) tangent[i] *= share[i];
}

/** Sets where every node falls to when a dividend is paid: it serves all that is stepped. */
function setFall({ first, weights }: GridWorkspace, spots: Float64Array, amount: number): void {
  const count = spots.length;
  let below = 0;
  for (let i = 0; i < count; i++) {
    const spot = Math.max(spots[i] - amount, spots[0]);
    while (below + 1 < count && spots[below + 1] <= spot) below++;
    first[i] = firstOfFour(count, below);
    cubicWeights(spots, first[i], spot, weights, 4 * i);
  }
}

function setFallen(out: Float64Array, values: Float64Array, { first, weights }: GridWorkspace): void {
  for (let i = 0; i < out.length; i++) {
    const at = first[i];
    const w = 4 * i;
    out[i] =
      weights[w] * values[at] +
      weights[w + 1] * values[at + 1] +
      weights[w + 2] * values[at + 2] +
      weights[w + 3] * values[at + 3];
  }
}
