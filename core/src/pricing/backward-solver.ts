import type { FiniteDifferenceProblem } from './finite-difference-problem.ts';

/** Most rounds of policy iteration in a step; it mostly takes two. */
const MOST_ROUNDS = 30;

/**
 * Steps values backward in time between dividends, in place; with them, where the column is not empty, those of the same
 * contract without early exercise, for which most of the work is done already.
 */
export class BackwardSolver {
  /** The operator a^2 V_SS / 2 + m V_S - r V as three diagonals */
  private readonly lower: Float64Array;
  private readonly middle: Float64Array;
  private readonly upper: Float64Array;
  private readonly right: Float64Array;
  private readonly europeanRight: Float64Array;
  private readonly sweep: Float64Array;
  private readonly isExercised: Uint8Array;
  private readonly neverExercised: Uint8Array;
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
    this.europeanRight = new Float64Array(count);
    this.sweep = new Float64Array(count);
    this.isExercised = new Uint8Array(count);
    this.neverExercised = new Uint8Array(count);
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
  march(
    values: Float64Array,
    european: Float64Array,
    { remaining, span, steps }: { remaining: number; span: number; steps: number },
  ): void {
    const end = this.o.timeToExpiry;
    let gone = 0;
    for (let n = 1; n <= steps; n++) {
      const target = span * (n / steps) ** 2;
      const step = target - gone;
      if (n <= 2) {
        this.step(values, european, end - remaining + gone + 0.5 * step, 0.5 * step, 1);
        this.step(values, european, end - remaining + target, 0.5 * step, 1);
      } else this.step(values, european, end - remaining + target, step, 0.5);
      gone = target;
    }
  }

  /** One step of the given length to `tau` years before expiry; weight 1 is implicit, 1/2 Crank-Nicolson. */
  private step(values: Float64Array, european: Float64Array, tau: number, length: number, weight: number): void {
    const { right, europeanRight, payoff, isExercised, neverExercised, o } = this;
    const explicit = (1 - weight) * length;
    const implicit = weight * length;
    const hasEuropean = european.length > 0;
    this.takeExplicit(right, values, explicit, tau, o.isAmerican);
    if (hasEuropean) this.takeExplicit(europeanRight, european, explicit, tau, false);
    if (o.isAmerican && this.hasOneBoundary) {
      const sweep = o.isCall ? this.solveDownward : this.solveUpward;
      sweep.call(this, values, hasEuropean ? european : undefined, implicit);
      return;
    }
    if (hasEuropean) this.solve(european, europeanRight, neverExercised, implicit);
    if (!o.isAmerican) {
      this.solve(values, right, neverExercised, implicit);
      return;
    }
    for (let round = 0; round < MOST_ROUNDS; round++) {
      this.solve(values, right, isExercised, implicit);
      if (this.exchange(values, implicit) === 0) return;
    }
    // Rounding may let two nodes change places for ever; the floor holds in any case.
    for (let i = 1; i < values.length - 1; i++) if (values[i] < payoff[i]) values[i] = payoff[i];
  }

  /** Right side of a step: the explicit share of the operator inside, the known values at the ends. */
  private takeExplicit(right: Float64Array, values: Float64Array, explicit: number, tau: number, isAmerican: boolean) {
    const { lower, middle, upper } = this;
    const last = values.length - 1;
    for (let i = 1; i < last; i++) {
      right[i] = values[i] + explicit * (lower[i] * values[i - 1] + middle[i] * values[i] + upper[i] * values[i + 1]);
    }
    right[0] = this.edge(0, tau, isAmerican);
    right[last] = this.edge(last, tau, isAmerican);
  }

  /** Nodes that change between held and exercised; their number. */
  private exchange(values: Float64Array, implicit: number): number {
    const { lower, middle, upper, right, payoff, isExercised } = this;
    let changes = 0;
    for (let i = 1; i < values.length - 1; i++) {
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
    return changes;
  }

  /**
   * One step of a put: eliminates from the highest spot down and substitutes from the exercised end up, taking exercise
   * where it is worth more. Exact when exercise pays below one boundary.
   * @see Brennan, M. J. & Schwartz, E. S. (1977). The valuation of American put options. Journal of Finance 32(2), 449-462.
   */
  private solveUpward(values: Float64Array, european: Float64Array | undefined, implicit: number): void {
    const { lower, middle, upper, right, europeanRight, sweep, payoff } = this;
    const last = values.length - 1;
    values[last] = right[last];
    sweep[last] = 0;
    if (european) european[last] = europeanRight[last];
    for (let i = last - 1; i > 0; i--) {
      const above = -implicit * upper[i];
      const pivot = 1 / (1 - implicit * middle[i] - above * sweep[i + 1]);
      sweep[i] = -implicit * lower[i] * pivot;
      values[i] = (right[i] - above * values[i + 1]) * pivot;
      if (european) european[i] = (europeanRight[i] - above * european[i + 1]) * pivot;
    }
    values[0] = right[0];
    if (european) european[0] = europeanRight[0];
    for (let i = 1; i < last; i++) {
      const held = values[i] - sweep[i] * values[i - 1];
      values[i] = held > payoff[i] ? held : payoff[i];
      if (european) european[i] -= sweep[i] * european[i - 1];
    }
  }

  /** The same of a call, from the lowest spot up and from the exercised end down. */
  private solveDownward(values: Float64Array, european: Float64Array | undefined, implicit: number): void {
    const { lower, middle, upper, right, europeanRight, sweep, payoff } = this;
    const last = values.length - 1;
    values[0] = right[0];
    sweep[0] = 0;
    if (european) european[0] = europeanRight[0];
    for (let i = 1; i < last; i++) {
      const below = -implicit * lower[i];
      const pivot = 1 / (1 - implicit * middle[i] - below * sweep[i - 1]);
      sweep[i] = -implicit * upper[i] * pivot;
      values[i] = (right[i] - below * values[i - 1]) * pivot;
      if (european) european[i] = (europeanRight[i] - below * european[i - 1]) * pivot;
    }
    values[last] = right[last];
    if (european) european[last] = europeanRight[last];
    for (let i = last - 1; i > 0; i--) {
      const held = values[i] - sweep[i] * values[i + 1];
      values[i] = held > payoff[i] ? held : payoff[i];
      if (european) european[i] -= sweep[i] * european[i + 1];
    }
  }

  /** Thomas' algorithm for (1 - implicit L) V = right, with exercised rows held at the payoff. */
  private solve(values: Float64Array, right: Float64Array, isExercised: Uint8Array, implicit: number): void {
    const { lower, middle, upper, sweep, payoff } = this;
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
  private edge(i: number, tau: number, isAmerican: boolean): number {
    const { o } = this;
    const sign = o.isCall ? 1 : -1;
    if (o.isDigital) return this.payoff[i] * Math.exp(-o.rate * tau);
    const now = o.timeToExpiry - tau;
    let held = this.spots[i] * Math.exp(-(o.isNormal ? o.rate : o.dividendYield) * tau);
    for (const d of o.dividends) if (d.time > now) held -= d.amount * Math.exp(-o.rate * (d.time - now));
    const forwardValue = sign * (Math.max(held, o.isNormal ? -Infinity : 0) - o.strike * Math.exp(-o.rate * tau));
    return Math.max(forwardValue, 0, isAmerican ? this.payoff[i] : 0);
  }
}
