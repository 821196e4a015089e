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
  const below = nodeBelow(grid, grid.spots[grid.strikeIndex], spot);
  return cubicAt(values, grid.spots, below, spot, new Float64Array(4));
}

/** The cubic as a function of the spot, as at the end beyond it, and never below 0; quick where spots are asked for in their order. */
export function curveThrough(values: Float64Array, spots: Float64Array): (spot: number) => number {
  const last = spots.length - 1;
  const weights = new Float64Array(4);
  let below = 0;
  return (asked) => {
    const spot = Math.min(Math.max(asked, spots[0]), spots[last]);
    while (below > 0 && spots[below] > spot) below--;
    while (below < last && spots[below + 1] <= spot) below++;
    return Math.max(0, cubicAt(values, spots, below, spot, weights));
  };
}

function cubicAt(
  values: Float64Array,
  spots: Float64Array,
  below: number,
  spot: number,
  weights: Float64Array,
): number {
  const first = firstOfFour(spots.length, below);
  cubicWeights(spots, first, spot, weights, 0);
  return (
    weights[0] * values[first] +
    weights[1] * values[first + 1] +
    weights[2] * values[first + 2] +
    weights[3] * values[first + 3]
  );
}

/** First of the four nodes around a spot, by the node at or below it. */
export function firstOfFour(count: number, below: number): number {
  return Math.min(Math.max(below - 1, 0), count - 4);
}

/** Weights of four nodes, from the first, in the cubic through them (Lagrange); written from `at` on. */
export function cubicWeights(
  spots: Float64Array,
  first: number,
  spot: number,
  weights: Float64Array,
  at: number,
): void {
  const x0 = spots[first];
  const x1 = spots[first + 1];
  const x2 = spots[first + 2];
  const x3 = spots[first + 3];
  const d0 = spot - x0;
  const d1 = spot - x1;
  const d2 = spot - x2;
  const d3 = spot - x3;
  weights[at] = (d1 * d2 * d3) / ((x0 - x1) * (x0 - x2) * (x0 - x3));
  weights[at + 1] = (d0 * d2 * d3) / ((x1 - x0) * (x1 - x2) * (x1 - x3));
  weights[at + 2] = (d0 * d1 * d3) / ((x2 - x0) * (x2 - x1) * (x2 - x3));
  weights[at + 3] = (d0 * d1 * d2) / ((x3 - x0) * (x3 - x1) * (x3 - x2));
}

/** Nodes of the polynomial that derivatives are read from. */
const READ_POINTS = 6;

/** Value and derivatives at a spot, of the polynomial through the six nodes around it. */
export function readAt(values: Float64Array, grid: Grid, spot: number, count: number): FiniteDifferenceResult {
  const i = nodeBelow(grid, grid.spots[grid.strikeIndex], spot);
  return polynomialAt(values, grid.spots, Math.min(Math.max(i - 2, 0), count - READ_POINTS), spot);
}

/** What is read where an option may be exercised. */
export interface ReadBesideExercise extends FiniteDifferenceResult {
  /** Read from the nodes on one side of a boundary alone */
  isOneSided: boolean;
  isExercised: boolean;
}

/**
 * Cells from the boundary within which the value is its expansion there, and the held nodes, counted from it, that tell the expansion;
 * of finer grids every second, third ... node, so that they tell of the same stretch.
 */
const EXPANDED = 8;
const FITTED = { from: 2, to: 12 } as const;
const FITTED_GRID = 200;
/** Held nodes next to the boundary that a polynomial leaves out: the boundary lies between nodes, which shows in them. */
const BLURRED = 2;

/**
 * Derivatives at a spot where some nodes are exercised. Close to the boundary B the value over exercise is gamma x^2 / 2 + c x^3 + d x^4, x the
 * distance from it, gamma as the pricing equation has it where nothing changes with time; B, c and d are fitted to the held nodes. Farther off
 * a polynomial through held nodes alone: across the boundary the value has no second derivative.
 * @param payoff by node; a node that has just its payoff is exercised
 */
export function readBesideExercise(
  values: Float64Array,
  payoff: Float64Array,
  grid: Grid,
  o: FiniteDifferenceProblem,
): ReadBesideExercise {
  const { spots } = grid;
  const last = spots.length - 1;
  const i = Math.min(nodeBelow(grid, spots[grid.strikeIndex], o.spot), last - 1);
  const isOut = (n: number) => payoff[n] > 0 && values[n] <= payoff[n];
  const sign = o.isCall ? 1 : -1;
  const exercised = () => ({
    price: sign * (o.spot - o.strike),
    delta: sign,
    gamma: 0,
    speed: 0,
    isOneSided: true,
    isExercised: true,
  });
  // The nearest exercised nodes on either side of the spot, none where they are far.
  const reach = Math.max(READ_POINTS + BLURRED, EXPANDED * strideOf(spots.length));
  let below = i;
  while (below >= Math.max(0, i - reach) && !isOut(below)) below--;
  let above = i + 1;
  while (above <= Math.min(last, i + reach) && !isOut(above)) above++;
  const isBelow = below >= 0 && isOut(below);
  const isAbove = above <= last && isOut(above);
  if (isOut(i) && isOut(i + 1)) return exercised();
  const lowest = isBelow ? below + 1 + BLURRED : 0;
  const highest = (isAbove ? above - BLURRED : last + 1) - READ_POINTS;
  const isNearBelow = isBelow && i - below < EXPANDED * strideOf(spots.length);
  const isNearAbove = isAbove && above - i - 1 < EXPANDED * strideOf(spots.length);
  if (isNearBelow || isNearAbove) {
    const away = isNearBelow && !(isNearAbove && above - i - 1 < i - below) ? 1 : -1;
    const expansion = boundaryExpansion(values, spots, { ...o, node: away === 1 ? below : above, away });
    if (expansion) {
      const x = away * (o.spot - expansion.boundary);
      if (x <= 0) return exercised();
      const { gamma, third, fourth } = expansion;
      return {
        price: sign * (o.spot - o.strike) + x * x * (0.5 * gamma + x * (third + fourth * x)),
        delta: sign + away * x * (gamma + x * (3 * third + 4 * fourth * x)),
        gamma: gamma + x * (6 * third + 12 * fourth * x),
        speed: away * (6 * third + 24 * fourth * x),
        isOneSided: true,
        isExercised: false,
      };
    }
  }
  const around = Math.min(Math.max(i - 2, 0), last + 1 - READ_POINTS);
  const isOneSided = around < lowest || around > highest;
  // Fewer held nodes than it takes between two boundaries: what there is has to do.
  const first = lowest > highest ? around : Math.min(Math.max(around, lowest), highest);
  return { ...polynomialAt(values, spots, first, o.spot), isOneSided, isExercised: false };
}

/** Value over exercise beside a boundary, by powers of the distance from it. */
interface BoundaryExpansion {
  boundary: number;
  /** Second derivative at the boundary; the others are coefficients of the third and fourth power */
  gamma: number;
  third: number;
  fourth: number;
}

/** The expansion beside an exercised node that fits the held nodes best; undefined with too few of them. */
function boundaryExpansion(
  values: Float64Array,
  spots: Float64Array,
  o: FiniteDifferenceProblem & { node: number; away: 1 | -1 },
): BoundaryExpansion | undefined {
  const { node, away } = o;
  const sign = o.isCall ? 1 : -1;
  const held: { spot: number; over: number }[] = [];
  const stride = strideOf(spots.length);
  for (let n = FITTED.from; n <= FITTED.to; n++) {
    const i = node + n * stride * away;
    if (i < 0 || i >= spots.length) break;
    const over = values[i] - sign * (spots[i] - o.strike);
    // Another boundary, or a grid that ends.
    if (!(over > 0)) break;
    held.push({ spot: spots[i], over });
  }
  if (held.length < FITTED_LEAST) return undefined;
  // V_t = 0 in r V - m V_S - a^2 V_SS / 2 = -V_t: gamma where exercise and holding are worth the same.
  const gammaAt = (boundary: number) => {
    const drift = o.isNormal ? 0 : (o.rate - o.dividendYield) * boundary;
    const diffusion = o.isNormal ? o.volatility ** 2 : (o.volatility * boundary) ** 2;
    return (2 * (o.rate * sign * (boundary - o.strike) - drift * sign)) / diffusion;
  };
  const fitAt = (boundary: number): BoundaryExpansion & { squares: number } => {
    const gamma = gammaAt(boundary);
    let [a33, a34, a44, b3, b4] = [0, 0, 0, 0, 0];
    for (const { spot, over } of held) {
      const x = away * (spot - boundary);
      const rest = over - 0.5 * gamma * x * x;
      const [x3, x4] = [x ** 3, x ** 4];
      a33 += x3 * x3;
      a34 += x3 * x4;
      a44 += x4 * x4;
      b3 += x3 * rest;
      b4 += x4 * rest;
    }
    const determinant = a33 * a44 - a34 * a34;
    const third = (b3 * a44 - b4 * a34) / determinant;
    const fourth = (a33 * b4 - a34 * b3) / determinant;
    let squares = 0;
    for (const { spot, over } of held) {
      const x = away * (spot - boundary);
      squares += (over - x * x * (0.5 * gamma + x * (third + fourth * x))) ** 2;
    }
    return { boundary, gamma, third, fourth, squares };
  };
  // Golden sections from a little before the exercised node to the second held one.
  const cell = spots[node + away] - spots[node];
  let [low, high] = [spots[node] - 0.5 * cell, spots[node] + 1.5 * cell];
  let [left, right] = [fitAt(high - GOLDEN * (high - low)), fitAt(low + GOLDEN * (high - low))];
  for (let step = 0; step < GOLDEN_STEPS; step++) {
    if (left.squares < right.squares) {
      high = right.boundary;
      right = left;
      left = fitAt(high - GOLDEN * (high - low));
    } else {
      low = left.boundary;
      left = right;
      right = fitAt(low + GOLDEN * (high - low));
    }
  }
  const best = left.squares < right.squares ? left : right;
  return best.gamma > 0 && Number.isFinite(best.squares) ? best : undefined;
}

/** Nodes from one fitted node to the next, on a grid of so many. */
function strideOf(nodes: number): number {
  return Math.max(1, Math.round(nodes / FITTED_GRID));
}

const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** To a ten thousandth of a cell. */
const GOLDEN_STEPS = 20;
const FITTED_LEAST = 5;

/** Value and derivatives at a spot of the polynomial through six nodes (Newton's divided differences). */
function polynomialAt(values: Float64Array, spots: Float64Array, first: number, spot: number): FiniteDifferenceResult {
  const points = READ_POINTS;
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
