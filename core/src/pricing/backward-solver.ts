import type { FiniteDifferenceProblem } from './finite-difference-problem.ts';

/** Most rounds of policy iteration in a step; it mostly takes two. */
const MOST_ROUNDS = 30;

/** Values at every node, changed in place by the steps. */
export interface SteppedValues {
  values: Float64Array;
  /** Those of the same contract without early exercise; empty where nobody asks */
  european: Float64Array;
  /** Derivatives of `values` by an input of the market; none where nobody asks */
  tangents: readonly Tangent[];
}

/** Derivative of the values by volatility or rate, exact for the scheme: the steps themselves are differentiated. */
export interface Tangent {
  by: 'volatility' | 'rate';
  values: Float64Array;
}

/** An operator that links each node to its neighbors. */
interface Diagonals {
  lower: Float64Array;
  middle: Float64Array;
  upper: Float64Array;
}

/**
 * Steps values backward in time between dividends, in place; with them, on demand, those of the same contract without early
 * exercise, and derivatives by the market, for which most of the work is done already.
 */
export class BackwardSolver {
  /** The operator a^2 V_SS / 2 + m V_S - r V as three diagonals */
  private readonly lower: Float64Array;
  private readonly middle: Float64Array;
  private readonly upper: Float64Array;
  private readonly right: Float64Array;
  private readonly europeanRight: Float64Array;
  private readonly sweep: Float64Array;
  private readonly pivot: Float64Array;
  private readonly before: Float64Array;
  private readonly zeros: Float64Array;
  private readonly slopes: Partial<Record<Tangent['by'], Diagonals>> = {};
  private readonly isExercised: Uint8Array;
  private readonly neverExercised: Uint8Array;
  /** Whether exercise pays on one side of a single boundary, as it does unless rate and yield are both negative */
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
    this.pivot = new Float64Array(count);
    this.before = new Float64Array(count);
    this.zeros = new Float64Array(count);
    this.isExercised = new Uint8Array(count);
    this.neverExercised = new Uint8Array(count);
    this.hasOneBoundary = !o.isNormal && !o.isDigital && (o.rate >= 0 || o.dividendYield >= 0);
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
  march(stepped: SteppedValues, { remaining, span, steps }: { remaining: number; span: number; steps: number }): void {
    const end = this.o.timeToExpiry;
    let gone = 0;
    for (let n = 1; n <= steps; n++) {
      const target = span * (n / steps) ** 2;
      const step = target - gone;
      if (n <= 2) {
        this.step(stepped, end - remaining + gone + 0.5 * step, 0.5 * step, 1);
        this.step(stepped, end - remaining + target, 0.5 * step, 1);
      } else this.step(stepped, end - remaining + target, step, 0.5);
      gone = target;
    }
  }

  /** One step of the given length to `tau` years before expiry; weight 1 is implicit, 1/2 Crank-Nicolson. */
  private step(stepped: SteppedValues, tau: number, length: number, weight: number): void {
    const { right, europeanRight, neverExercised, o } = this;
    const { values, european, tangents } = stepped;
    const explicit = (1 - weight) * length;
    const implicit = weight * length;
    const hasEuropean = european.length > 0;
    if (tangents.length > 0) this.before.set(values);
    this.takeExplicit(right, values, explicit);
    this.setEdges(right, tau, o.isAmerican);
    if (hasEuropean) {
      this.takeExplicit(europeanRight, european, explicit);
      this.setEdges(europeanRight, tau, false);
    }
    if (this.hasOneBoundary && o.isAmerican) {
      const sweep = o.isCall ? this.solveDownward : this.solveUpward;
      sweep.call(this, values, hasEuropean ? european : undefined, implicit);
    } else {
      if (hasEuropean) this.solve(european, europeanRight, neverExercised, implicit, this.payoff);
      if (o.isAmerican) this.iteratePolicy(values, implicit);
      else this.solve(values, right, neverExercised, implicit, this.payoff);
    }
    if (tangents.length === 0) return;
    // What the operator's derivatives act on: the values along the step, weighted as the step weights them.
    const { before } = this;
    for (let i = 0; i < before.length; i++) before[i] = implicit * values[i] + explicit * before[i];
    for (const tangent of tangents) this.stepTangent(tangent, { explicit, implicit, tau });
  }

  /** Derivative of the operator by an input, as its three diagonals. */
  private slopeOf(by: Tangent['by']): Diagonals {
    const known = this.slopes[by];
    if (known) return known;
    const { spots, o } = this;
    const count = spots.length;
    const made = {
      lower: new Float64Array(count),
      middle: new Float64Array(count),
      upper: new Float64Array(count),
    };
    const drift = o.isNormal || o.isFuture ? 0 : 1;
    for (let i = 1; i < count - 1; i++) {
      const down = spots[i] - spots[i - 1];
      const up = spots[i + 1] - spots[i];
      const diffusionSlope = by === 'volatility' ? 2 * o.volatility * (o.isNormal ? 1 : spots[i] ** 2) : 0;
      const driftSlope = by === 'rate' ? drift * spots[i] : 0;
      made.lower[i] = (diffusionSlope - driftSlope * up) / (down * (down + up));
      made.upper[i] = (diffusionSlope + driftSlope * down) / (up * (down + up));
      made.middle[i] = -made.lower[i] - made.upper[i] - (by === 'rate' ? 1 : 0);
    }
    this.slopes[by] = made;
    return made;
  }

  private iteratePolicy(values: Float64Array, implicit: number): void {
    const { right, payoff, isExercised } = this;
    for (let round = 0; round < MOST_ROUNDS; round++) {
      this.solve(values, right, isExercised, implicit, payoff);
      if (this.exchange(values, implicit) === 0) return;
    }
    // Rounding may let two nodes change places for ever; the floor holds in any case.
    for (let i = 1; i < values.length - 1; i++) if (values[i] < payoff[i]) values[i] = payoff[i];
  }

  /** The step that `values` just took, differentiated: the same matrix, with the operator's own derivative as a source. */
  private stepTangent(
    { by, values: tangent }: Tangent,
    { explicit, implicit, tau }: { explicit: number; implicit: number; tau: number },
  ): void {
    const { right, before, lower, middle, upper, o } = this;
    const last = tangent.length - 1;
    const slope = this.slopeOf(by);
    for (let i = 1; i < last; i++) {
      right[i] =
        tangent[i] +
        explicit * (lower[i] * tangent[i - 1] + middle[i] * tangent[i] + upper[i] * tangent[i + 1]) +
        (slope.lower[i] * before[i - 1] + slope.middle[i] * before[i] + slope.upper[i] * before[i + 1]);
    }
    right[0] = by === 'rate' ? this.edgeByRate(0, tau) : 0;
    right[last] = by === 'rate' ? this.edgeByRate(last, tau) : 0;
    if (o.isAmerican && this.hasOneBoundary) {
      if (o.isCall) this.followDownward(tangent, implicit);
      else this.followUpward(tangent, implicit);
    } else this.solve(tangent, right, o.isAmerican ? this.isExercised : this.neverExercised, implicit, this.zeros);
  }

  /** Right side of a step but for its ends: the explicit share of the operator. */
  private takeExplicit(right: Float64Array, values: Float64Array, explicit: number) {
    const { lower, middle, upper } = this;
    const last = values.length - 1;
    for (let i = 1; i < last; i++) {
      right[i] = values[i] + explicit * (lower[i] * values[i - 1] + middle[i] * values[i] + upper[i] * values[i + 1]);
    }
  }

  private setEdges(right: Float64Array, tau: number, isAmerican: boolean): void {
    const last = right.length - 1;
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
    const { lower, middle, upper, right, europeanRight, sweep, pivot, payoff, isExercised } = this;
    const last = values.length - 1;
    values[last] = right[last];
    sweep[last] = 0;
    if (european) european[last] = europeanRight[last];
    for (let i = last - 1; i > 0; i--) {
      const above = -implicit * upper[i];
      const p = 1 / (1 - implicit * middle[i] - above * sweep[i + 1]);
      pivot[i] = p;
      sweep[i] = -implicit * lower[i] * p;
      values[i] = (right[i] - above * values[i + 1]) * p;
      if (european) european[i] = (europeanRight[i] - above * european[i + 1]) * p;
    }
    values[0] = right[0];
    if (european) european[0] = europeanRight[0];
    for (let i = 1; i < last; i++) {
      const held = values[i] - sweep[i] * values[i - 1];
      const isHeld = held > payoff[i];
      values[i] = isHeld ? held : payoff[i];
      isExercised[i] = isHeld ? 0 : 1;
      if (european) european[i] -= sweep[i] * european[i - 1];
    }
  }

  /** The same of a call, from the lowest spot up and from the exercised end down. */
  private solveDownward(values: Float64Array, european: Float64Array | undefined, implicit: number): void {
    const { lower, middle, upper, right, europeanRight, sweep, pivot, payoff, isExercised } = this;
    const last = values.length - 1;
    values[0] = right[0];
    sweep[0] = 0;
    if (european) european[0] = europeanRight[0];
    for (let i = 1; i < last; i++) {
      const below = -implicit * lower[i];
      const p = 1 / (1 - implicit * middle[i] - below * sweep[i - 1]);
      pivot[i] = p;
      sweep[i] = -implicit * upper[i] * p;
      values[i] = (right[i] - below * values[i - 1]) * p;
      if (european) european[i] = (europeanRight[i] - below * european[i - 1]) * p;
    }
    values[last] = right[last];
    if (european) european[last] = europeanRight[last];
    for (let i = last - 1; i > 0; i--) {
      const held = values[i] - sweep[i] * values[i + 1];
      const isHeld = held > payoff[i];
      values[i] = isHeld ? held : payoff[i];
      isExercised[i] = isHeld ? 0 : 1;
      if (european) european[i] -= sweep[i] * european[i + 1];
    }
  }

  /** A tangent through the elimination of {@link solveUpward}: none where the option is exercised. */
  private followUpward(tangent: Float64Array, implicit: number): void {
    const { upper, right, sweep, pivot, isExercised } = this;
    const last = tangent.length - 1;
    tangent[last] = right[last];
    for (let i = last - 1; i > 0; i--) tangent[i] = (right[i] + implicit * upper[i] * tangent[i + 1]) * pivot[i];
    tangent[0] = right[0];
    for (let i = 1; i < last; i++) tangent[i] = isExercised[i] ? 0 : tangent[i] - sweep[i] * tangent[i - 1];
  }

  /** The same of {@link solveDownward}. */
  private followDownward(tangent: Float64Array, implicit: number): void {
    const { lower, right, sweep, pivot, isExercised } = this;
    const last = tangent.length - 1;
    tangent[0] = right[0];
    for (let i = 1; i < last; i++) tangent[i] = (right[i] + implicit * lower[i] * tangent[i - 1]) * pivot[i];
    tangent[last] = right[last];
    for (let i = last - 1; i > 0; i--) tangent[i] = isExercised[i] ? 0 : tangent[i] - sweep[i] * tangent[i + 1];
  }

  /** Thomas' algorithm for (1 - implicit L) V = right, with exercised rows held at what exercise gives. */
  private solve(
    values: Float64Array,
    right: Float64Array,
    isExercised: Uint8Array,
    implicit: number,
    exercised: Float64Array,
  ): void {
    const { lower, middle, upper, sweep } = this;
    const last = values.length - 1;
    values[0] = right[0];
    sweep[0] = 0;
    for (let i = 1; i < last; i++) {
      if (isExercised[i]) {
        sweep[i] = 0;
        values[i] = exercised[i];
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

  /** Derivative of {@link edge} by the rate: none where the end is exercised or worth nothing. */
  private edgeByRate(i: number, tau: number): number {
    const { o } = this;
    const value = this.edge(i, tau, o.isAmerican);
    if (o.isDigital) return -tau * value;
    if (!(value > 0) || (o.isAmerican && value <= this.payoff[i])) return 0;
    const now = o.timeToExpiry - tau;
    const carryTime = o.isNormal || o.isFuture ? tau : 0;
    let slope = -carryTime * this.spots[i] * Math.exp(-(o.isNormal ? o.rate : o.dividendYield) * tau);
    for (const d of o.dividends)
      if (d.time > now) slope += d.amount * (d.time - now) * Math.exp(-o.rate * (d.time - now));
    return (o.isCall ? 1 : -1) * (slope + o.strike * tau * Math.exp(-o.rate * tau));
  }
}
