import type { FiniteDifferenceProblem, FiniteDifferenceResult } from './finite-difference-problem.ts';

/** Where the grid lies; kept when inputs are moved for a derivative, so that its error moves smoothly. */
export interface GridShape {
  lower: number;
  upper: number;
  concentration: number;
}

/** Reach of the grid in standard deviations: beyond it lies 1e-12 of the distribution. */
const REACH = 7;
/** Early exercise out there is certain or worth nothing; nodes are better spent nearer. */
export const PREMIUM_REACH = 4.5;

export function gridShapeOf(o: FiniteDifferenceProblem, deviations = REACH): GridShape {
  const s = o.volatility * Math.sqrt(o.timeToExpiry);
  const paid = o.dividends.reduce((sum, d) => sum + d.amount, 0);
  if (o.isNormal) {
    const reach = deviations * s + Math.abs(o.spot - o.strike);
    return { lower: o.strike - reach, upper: o.strike + reach, concentration: 1.5 * s };
  }
  const drift = Math.abs((o.rate - o.dividendYield) * o.timeToExpiry);
  const upper = Math.max(o.spot, o.strike) * Math.exp(deviations * s + drift) + paid;
  return { lower: 0, upper, concentration: o.strike * Math.min(1, Math.max(0.75 * s, 0.01)) };
}

/** Nodes of the underlying's price. */
export interface Grid {
  spots: Float64Array;
  strikeIndex: number;
  step: number;
  concentration: number;
}

/** Nodes with the strike on one of them; the strike's place depends on the shape alone, so the finer grid holds the coarser. */
export function gridOf(strike: number, shape: GridShape, count: number): Grid {
  const below = Math.asinh((strike - shape.lower) / shape.concentration);
  const above = Math.asinh((shape.upper - strike) / shape.concentration);
  const strikeIndex = 2 * Math.max(1, Math.round((0.5 * count * below) / (below + above)));
  const step = below / strikeIndex;
  const nodes = strikeIndex + 2 * Math.ceil((0.5 * above) / step) + 1;
  const spots = new Float64Array(nodes);
  for (let i = 0; i < nodes; i++) spots[i] = strike + shape.concentration * Math.sinh((i - strikeIndex) * step);
  spots[0] = shape.lower;
  spots[strikeIndex] = strike;
  return { spots, strikeIndex, step, concentration: shape.concentration };
}

/** Index of the node at or below a spot. */
function nodeBelow(grid: Grid, strike: number, spot: number): number {
  const guess = grid.strikeIndex + Math.floor(Math.asinh((spot - strike) / grid.concentration) / grid.step);
  const last = grid.spots.length - 1;
  let i = Math.min(Math.max(guess, 0), last);
  while (i > 0 && grid.spots[i] > spot) i--;
  while (i < last && grid.spots[i + 1] <= spot) i++;
  return i;
}

/** Cubic through the four nodes around the spot. */
export function interpolate(values: Float64Array, grid: Grid, spot: number): number {
  return cubicAt(values, grid.spots, nodeBelow(grid, grid.spots[grid.strikeIndex], spot), spot);
}

export function cubicAt(values: Float64Array, spots: Float64Array, below: number, spot: number): number {
  if (spots[below] === spot) return values[below];
  const first = Math.min(Math.max(below - 1, 0), spots.length - 4);
  const x0 = spots[first];
  const x1 = spots[first + 1];
  const x2 = spots[first + 2];
  const x3 = spots[first + 3];
  const d0 = spot - x0;
  const d1 = spot - x1;
  const d2 = spot - x2;
  const d3 = spot - x3;
  return (
    (values[first] * d1 * d2 * d3) / ((x0 - x1) * (x0 - x2) * (x0 - x3)) +
    (values[first + 1] * d0 * d2 * d3) / ((x1 - x0) * (x1 - x2) * (x1 - x3)) +
    (values[first + 2] * d0 * d1 * d3) / ((x2 - x0) * (x2 - x1) * (x2 - x3)) +
    (values[first + 3] * d0 * d1 * d2) / ((x3 - x0) * (x3 - x1) * (x3 - x2))
  );
}

/** Value and derivatives at a spot, of the polynomial through the six nodes around it (Newton's divided differences). */
export function readAt(values: Float64Array, grid: Grid, spot: number, count: number): FiniteDifferenceResult {
  const { spots } = grid;
  const points = 6;
  const i = nodeBelow(grid, spots[grid.strikeIndex], spot);
  const first = Math.min(Math.max(i - 2, 0), count - points);
  const difference = values.slice(first, first + points);
  for (let order = 1; order < points; order++) {
    for (let a = points - 1; a >= order; a--) {
      difference[a] = (difference[a] - difference[a - 1]) / (spots[first + a] - spots[first + a - order]);
    }
  }
  let [value, d1, d2, d3] = [difference[points - 1], 0, 0, 0];
  for (let a = points - 2; a >= 0; a--) {
    const x = spot - spots[first + a];
    d3 = d3 * x + 3 * d2;
    d2 = d2 * x + 2 * d1;
    d1 = d1 * x + value;
    value = value * x + difference[a];
  }
  return { price: value, delta: d1, gamma: d2, speed: d3 };
}
