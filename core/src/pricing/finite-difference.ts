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

export interface CashDividend {
  /** Years from now to the ex-date, inside (0, time to expiry) */
  time: number;
  /** Per unit of underlying, >= 0; a spot at or below it falls to zero */
  amount: number;
}

/** Contract and market of one solution. Unchecked. */
export interface FiniteDifferenceProblem {
  isCall: boolean;
  isAmerican: boolean;
  isNormal: boolean;
  /** Pays 1 when it ends in the money, instead of the difference */
  isDigital?: boolean;
  spot: number;
  strike: number;
  timeToExpiry: number;
  rate: number;
  /** 0 in the normal model */
  dividendYield: number;
  volatility: number;
  dividends: readonly CashDividend[];
}

/** Steps of the coarser grid; the finer one has twice as many of both. */
export interface GridSize {
  space: number;
  time: number;
  /** Fewest time steps between two dividends; default 8 */
  leastSteps?: number;
}

/** Value and its first three derivatives by spot. */
export interface FiniteDifferenceResult {
  price: number;
  delta: number;
  gamma: number;
  speed: number;
}

/** Where the grid lies; kept when inputs are moved for a derivative, so that its error moves smoothly. */
export interface GridShape {
  lower: number;
  upper: number;
  concentration: number;
}

/** Reach of the grid in standard deviations: beyond it lies 1e-12 of the distribution. */
const REACH = 7;
/** Early exercise out there is certain or worth nothing; nodes are better spent nearer. */
const PREMIUM_REACH = 4.5;

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
  const shape = gridShapeOf(american, PREMIUM_REACH);
  const grid = gridOf(o.strike, shape, size.space);
  const values = valuesOn(grid, american, size);
  const european = valuesOn(grid, { ...american, isAmerican: false }, size);
  const premium = values.map((value, i) => Math.max(0, value - european[i]));
  const { spots } = grid;
  const last = spots.length - 1;
  return (spot) => Math.max(0, interpolate(premium, grid, Math.min(Math.max(spot, spots[0]), spots[last])));
}

interface Grid {
  spots: Float64Array;
  strikeIndex: number;
  step: number;
  concentration: number;
}

/** Nodes with the strike on one of them; the strike's place depends on the shape alone, so the finer grid holds the coarser. */
function gridOf(strike: number, shape: GridShape, count: number): Grid {
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

function solveOnGrid(o: FiniteDifferenceProblem, size: GridSize, shape: GridShape): FiniteDifferenceResult {
  const grid = gridOf(o.strike, shape, size.space);
  return readAt(valuesOn(grid, o, size), grid, o.spot, grid.spots.length);
}

/** Values today at every node. */
function valuesOn(grid: Grid, o: FiniteDifferenceProblem, size: GridSize): Float64Array {
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
  const dates = o.dividends.filter((d) => d.amount > 0).sort((a, b) => b.time - a.time);
  let remaining = o.timeToExpiry;
  for (const dividend of [...dates, undefined]) {
    const until = dividend?.time ?? 0;
    const span = remaining - until;
    if (span > 0) {
      const share = Math.sqrt(span / o.timeToExpiry);
      solver.march(values, remaining, span, Math.max(Math.ceil(size.time * share), size.leastSteps ?? 8));
    }
    remaining = until;
    if (dividend) values = afterDividend(values, grid, dividend.amount, o.isAmerican ? payoff : undefined);
  }
  return values;
}

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
function interpolate(values: Float64Array, grid: Grid, spot: number): number {
  return cubicAt(values, grid.spots, nodeBelow(grid, grid.spots[grid.strikeIndex], spot), spot);
}

function cubicAt(values: Float64Array, spots: Float64Array, below: number, spot: number): number {
  if (spots[below] === spot) return values[below];
  const first = Math.min(Math.max(below - 1, 0), spots.length - 4);
  const [x0, x1, x2, x3] = [spots[first], spots[first + 1], spots[first + 2], spots[first + 3]];
  const [d0, d1, d2, d3] = [spot - x0, spot - x1, spot - x2, spot - x3];
  return (
    (values[first] * d1 * d2 * d3) / ((x0 - x1) * (x0 - x2) * (x0 - x3)) +
    (values[first + 1] * d0 * d2 * d3) / ((x1 - x0) * (x1 - x2) * (x1 - x3)) +
    (values[first + 2] * d0 * d1 * d3) / ((x2 - x0) * (x2 - x1) * (x2 - x3)) +
    (values[first + 3] * d0 * d1 * d2) / ((x3 - x0) * (x3 - x1) * (x3 - x2))
  );
}

/** Value and derivatives at a spot, of the polynomial through the six nodes around it (Newton's divided differences). */
function readAt(values: Float64Array, grid: Grid, spot: number, count: number): FiniteDifferenceResult {
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

/** Most rounds of policy iteration in a step; it mostly takes two. */
const MOST_ROUNDS = 30;

/** Steps values backward in time between dividends, in place. */
class BackwardSolver {
  /** The operator a^2 V_SS / 2 + m V_S - r V as three diagonals */
  private readonly lower: Float64Array;
  private readonly middle: Float64Array;
  private readonly upper: Float64Array;
  private readonly right: Float64Array;
  private readonly sweep: Float64Array;
  private readonly isExercised: Uint8Array;
  /** Whether exercise pays on one side of a single boundary, as it does unless rates are negative */
  private readonly hasOneBoundary: boolean;

  constructor(
    private readonly o: FiniteDifferenceProblem,
    private readonly spots: Float64Array,
    private readonly payoff: Float64Array,
  ) {
    const count = spots.length;
    this.lower = new Float64Array(count);
    this.middle = new Float64Array(count);
    this.upper = new Float64Array(count);
    this.right = new Float64Array(count);
    this.sweep = new Float64Array(count);
    this.isExercised = new Uint8Array(count);
    this.hasOneBoundary = !o.isNormal && !o.isDigital && o.rate >= 0 && o.dividendYield >= 0;
    for (let i = 1; i < count - 1; i++) {
      const down = spots[i] - spots[i - 1];
      const up = spots[i + 1] - spots[i];
      const diffusion = o.isNormal ? o.volatility ** 2 : (o.volatility * spots[i]) ** 2;
      const drift = o.isNormal ? 0 : (o.rate - o.dividendYield) * spots[i];
      this.lower[i] = (diffusion - drift * up) / (down * (down + up));
      this.upper[i] = (diffusion + drift * down) / (up * (down + up));
      this.middle[i] = -this.lower[i] - this.upper[i] - o.rate;
    }
  }

  /** From `remaining` years before expiry... backward over `span` years, in `steps` steps. */
  march(values: Float64Array, remaining: number, span: number, steps: number): void {
    const end = this.o.timeToExpiry;
    let gone = 0;
    for (let n = 1; n <= steps; n++) {
      const target = span * (n / steps) ** 2;
      const step = target - gone;
      if (n <= 2) {
        this.step(values, end - remaining + gone + 0.5 * step, 0.5 * step, 1);
        this.step(values, end - remaining + target, 0.5 * step, 1);
      } else this.step(values, end - remaining + target, step, 0.5);
      gone = target;
    }
  }

  /** One step of the given length to `tau` years before expiry; weight 1 is implicit, 1/2 Crank-Nicolson. */
  private step(values: Float64Array, tau: number, length: number, weight: number): void {
    const { lower, middle, upper, right, payoff, isExercised } = this;
    const count = values.length;
    const last = count - 1;
    const explicit = (1 - weight) * length;
    for (let i = 1; i < last; i++) {
      right[i] = values[i] + explicit * (lower[i] * values[i - 1] + middle[i] * values[i] + upper[i] * values[i + 1]);
    }
    right[0] = this.edge(0, tau);
    right[last] = this.edge(last, tau);
    const implicit = weight * length;
    if (this.o.isAmerican && this.hasOneBoundary) {
      if (this.o.isCall) this.solveDownward(values, implicit);
      else this.solveUpward(values, implicit);
      return;
    }
    for (let round = 0; round < MOST_ROUNDS; round++) {
      this.solve(values, implicit);
      if (!this.o.isAmerican) return;
      let changes = 0;
      for (let i = 1; i < last; i++) {
        if (isExercised[i]) {
          const residual =
            values[i] - implicit * (lower[i] * values[i - 1] + middle[i] * values[i] + upper[i] * values[i + 1]);
          if (residual < right[i]) {
            isExercised[i] = 0;
            changes++;
          }
        } else if (values[i] < payoff[i]) {
          isExercised[i] = 1;
          changes++;
        }
      }
      if (changes === 0) return;
    }
    // Rounding may let two nodes change places for ever; the floor holds in any case.
    for (let i = 1; i < last; i++) if (values[i] < payoff[i]) values[i] = payoff[i];
  }

  /**
   * One step of a put: eliminates from the highest spot down and substitutes from the exercised end up, taking exercise
   * where it is worth more. Exact when exercise pays below one boundary.
   * @see Brennan, M. J. & Schwartz, E. S. (1977). The valuation of American put options. Journal of Finance 32(2), 449-462.
   */
  private solveUpward(values: Float64Array, implicit: number): void {
    const { lower, middle, upper, right, sweep, payoff } = this;
    const last = values.length - 1;
    values[last] = right[last];
    sweep[last] = 0;
    for (let i = last - 1; i > 0; i--) {
      const above = -implicit * upper[i];
      const pivot = 1 / (1 - implicit * middle[i] - above * sweep[i + 1]);
      sweep[i] = -implicit * lower[i] * pivot;
      values[i] = (right[i] - above * values[i + 1]) * pivot;
    }
    values[0] = right[0];
    for (let i = 1; i < last; i++) {
      const held = values[i] - sweep[i] * values[i - 1];
      values[i] = held > payoff[i] ? held : payoff[i];
    }
  }

  /** The same of a call, from the lowest spot up and from the exercised end down. */
  private solveDownward(values: Float64Array, implicit: number): void {
    const { lower, middle, upper, right, sweep, payoff } = this;
    const last = values.length - 1;
    values[0] = right[0];
    sweep[0] = 0;
    for (let i = 1; i < last; i++) {
      const below = -implicit * lower[i];
      const pivot = 1 / (1 - implicit * middle[i] - below * sweep[i - 1]);
      sweep[i] = -implicit * upper[i] * pivot;
      values[i] = (right[i] - below * values[i - 1]) * pivot;
    }
    values[last] = right[last];
    for (let i = last - 1; i > 0; i--) {
      const held = values[i] - sweep[i] * values[i + 1];
      values[i] = held > payoff[i] ? held : payoff[i];
    }
  }

  /** Thomas' algorithm for (1 - implicit L) V = right, with exercised rows held at the payoff. */
  private solve(values: Float64Array, implicit: number): void {
    const { lower, middle, upper, right, sweep, payoff, isExercised } = this;
    const last = values.length - 1;
    values[0] = right[0];
    sweep[0] = 0;
    for (let i = 1; i < last; i++) {
      if (isExercised[i]) {
        sweep[i] = 0;
        values[i] = payoff[i];
        continue;
      }
      const below = -implicit * lower[i];
      const pivot = 1 / (1 - implicit * middle[i] - below * sweep[i - 1]);
      sweep[i] = -implicit * upper[i] * pivot;
      values[i] = (right[i] - below * values[i - 1]) * pivot;
    }
    values[last] = right[last];
    for (let i = last - 1; i > 0; i--) values[i] -= sweep[i] * values[i + 1];
  }

  /** Value at the ends of the grid: certain exercise, or none, `tau` years before expiry. */
  private edge(i: number, tau: number): number {
    const { o } = this;
    const sign = o.isCall ? 1 : -1;
    if (o.isDigital) return this.payoff[i] * Math.exp(-o.rate * tau);
    const now = o.timeToExpiry - tau;
    let held = this.spots[i] * Math.exp(-(o.isNormal ? o.rate : o.dividendYield) * tau);
    for (const d of o.dividends) if (d.time > now) held -= d.amount * Math.exp(-o.rate * (d.time - now));
    const forwardValue = sign * (Math.max(held, o.isNormal ? -Infinity : 0) - o.strike * Math.exp(-o.rate * tau));
    return Math.max(forwardValue, 0, o.isAmerican ? this.payoff[i] : 0);
  }
}
