import type { FiniteDifferenceProblem } from './finite-difference-problem.ts';
import type { GridWorkspace } from './grid-workspace.ts';

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

/** What the lowest and the highest node are worth. */
interface Ends {
  low: number;
  high: number;
}

/** What a step of the values leaves for tangents to follow, and for the next one to begin with. */
interface Trace {
  /** Values along the step, weighted as the step weights them */
  between: Float64Array;
  pivot: Float64Array;
  isExercised: Uint8Array;
}

/** A step: its shares taken explicitly and implicitly, years, and the ends after it. */
interface Step {
  explicit: number;
  implicit: number;
  /** With exercise, where the values have it */
  ends: Ends;
  /** Without */
  endsHeld: Ends;
}

/**
 * Steps values backward in time between dividends, in place; with them, on demand, those of the same contract without early
 * exercise, and derivatives by the market, for which most of the work is done already.
 */
export class BackwardSolver {
  private readonly slopes: Partial<Record<Tangent['by'], Diagonals>> = {};
  private traced?: Trace;
  /** Worth of each dividend at expiry */
  private readonly worths: number[];
  /** Whether exercise pays on one side of a single boundary, as it does unless rate and yield are both negative */
  private readonly hasOneBoundary: boolean;

  constructor(
    private readonly o: FiniteDifferenceProblem,
    private readonly spots: Float64Array,
    /** Its diagonals become those of a^2 V_SS / 2 + m V_S - r V; its payoff is given */
    private readonly work: GridWorkspace,
  ) {
    const count = spots.length;
    this.worths = o.dividends.map((d) => d.amount * Math.exp(o.rate * (o.timeToExpiry - d.time)));
    this.hasOneBoundary = !o.isNormal && !o.isDigital && (o.rate >= 0 || o.dividendYield >= 0);
    const { lower, middle, upper } = work;
    for (let i = 1; i < count - 1; i++) {
      const down = spots[i] - spots[i - 1];
      const up = spots[i + 1] - spots[i];
      const diffusion = o.isNormal ? o.volatility ** 2 : (o.volatility * spots[i]) ** 2;
      const drift = o.isNormal ? 0 : (o.rate - o.dividendYield) * spots[i];
      lower[i] = (diffusion - drift * up) / (down * (down + up));
      upper[i] = (diffusion + drift * down) / (up * (down + up));
      middle[i] = -lower[i] - upper[i] - o.rate;
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
    const { o } = this;
    const { payoff } = this.work;
    const { values, european, tangents } = stepped;
    const last = values.length - 1;
    const endsHeld = this.endsHeld(tau);
    const ends = o.isAmerican
      ? { low: Math.max(endsHeld.low, payoff[0]), high: Math.max(endsHeld.high, payoff[last]) }
      : endsHeld;
    const step: Step = { explicit: (1 - weight) * length, implicit: weight * length, ends, endsHeld };
    const trace = tangents.length > 0 ? this.trace() : undefined;
    trace?.between.set(values);
    if (o.isAmerican && this.hasOneBoundary) {
      if (o.isCall) this.solveDownward(values, european, step, trace);
      else this.solveUpward(values, european, step, trace);
    } else {
      this.takeExplicit(values, step.explicit, ends);
      if (o.isAmerican) this.iteratePolicy(values, step.implicit);
      else this.solve(values, step.implicit);
      if (european.length > 0) {
        this.takeExplicit(european, step.explicit, endsHeld);
        this.solve(european, step.implicit);
      }
    }
    if (!trace) return;
    const { between } = trace;
    for (let i = 0; i <= last; i++) between[i] = step.implicit * values[i] + step.explicit * between[i];
    for (const tangent of tangents) this.stepTangent(tangent, trace, step, tau);
  }

  /** Made when somebody asks: values alone need none. */
  private trace(): Trace {
    const count = this.spots.length;
    this.traced ??= {
      between: new Float64Array(count),
      pivot: new Float64Array(count),
      isExercised: new Uint8Array(count),
    };
    return this.traced;
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
    const { payoff } = this.work;
    const { isExercised } = this.trace();
    for (let round = 0; round < MOST_ROUNDS; round++) {
      this.solve(values, implicit, { isExercised, worth: payoff });
      if (this.exchange(values, isExercised, implicit) === 0) return;
    }
    // Rounding may let two nodes change places for ever; the floor holds in any case.
    for (let i = 1; i < values.length - 1; i++) if (values[i] < payoff[i]) values[i] = payoff[i];
  }

  /** The step that `values` just took, differentiated: the same matrix, with the operator's own derivative as a source. */
  private stepTangent({ by, values: tangent }: Tangent, trace: Trace, { explicit, implicit }: Step, tau: number): void {
    const { o } = this;
    const { right, lower, middle, upper } = this.work;
    const { between, isExercised } = trace;
    const last = tangent.length - 1;
    const slope = this.slopeOf(by);
    for (let i = 1; i < last; i++) {
      right[i] =
        tangent[i] +
        explicit * (lower[i] * tangent[i - 1] + middle[i] * tangent[i] + upper[i] * tangent[i + 1]) +
        (slope.lower[i] * between[i - 1] + slope.middle[i] * between[i] + slope.upper[i] * between[i + 1]);
    }
    right[0] = by === 'rate' ? this.edgeByRate(0, tau) : 0;
    right[last] = by === 'rate' ? this.edgeByRate(last, tau) : 0;
    if (o.isAmerican && this.hasOneBoundary) {
      if (o.isCall) this.followDownward(tangent, trace, implicit);
      else this.followUpward(tangent, trace, implicit);
    } else this.solve(tangent, implicit, o.isAmerican ? { isExercised } : undefined);
  }

  /** Right side of a step: the explicit share of the operator, and the ends after the step. */
  private takeExplicit(values: Float64Array, explicit: number, ends: Ends) {
    const { right, lower, middle, upper } = this.work;
    const last = values.length - 1;
    for (let i = 1; i < last; i++) {
      right[i] = values[i] + explicit * (lower[i] * values[i - 1] + middle[i] * values[i] + upper[i] * values[i + 1]);
    }
    right[0] = ends.low;
    right[last] = ends.high;
  }

  /** Nodes that change between held and exercised; their number. */
  private exchange(values: Float64Array, isExercised: Uint8Array, implicit: number): number {
    const { lower, middle, upper, right, payoff } = this.work;
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
   * One step of a put, and of the European one where there are values of it: eliminates from the highest spot down and
   * substitutes from the exercised end up, taking exercise where it is worth more. Exact when exercise pays below one boundary.
   * @see Brennan, M. J. & Schwartz, E. S. (1977). The valuation of American put options. Journal of Finance 32(2), 449-462.
   */
  private solveUpward(values: Float64Array, european: Float64Array, step: Step, trace?: Trace): void {
    const { lower, middle, upper, sweep, payoff } = this.work;
    const { explicit, implicit, ends, endsHeld } = step;
    const last = values.length - 1;
    const hasEuropean = european.length > 0;
    // Of the node above: before the step, after it, and the European ones alike.
    let before = values[last];
    let above = ends.high;
    let europeanBefore = 0;
    let europeanAbove = endsHeld.high;
    let swept = 0;
    values[last] = above;
    if (hasEuropean) {
      europeanBefore = european[last];
      european[last] = europeanAbove;
    }
    for (let i = last - 1; i > 0; i--) {
      const l = lower[i];
      const m = middle[i];
      const u = upper[i];
      const beside = -implicit * u;
      const pivot = 1 / (1 - implicit * m - beside * swept);
      swept = -implicit * l * pivot;
      sweep[i] = swept;
      if (trace) trace.pivot[i] = pivot;
      const here = values[i];
      above = (here + explicit * (l * values[i - 1] + m * here + u * before) - beside * above) * pivot;
      values[i] = above;
      before = here;
      if (!hasEuropean) continue;
      const europeanHere = european[i];
      europeanAbove =
        (europeanHere +
          explicit * (l * european[i - 1] + m * europeanHere + u * europeanBefore) -
          beside * europeanAbove) *
        pivot;
      european[i] = europeanAbove;
      europeanBefore = europeanHere;
    }
    let below = ends.low;
    values[0] = below;
    for (let i = 1; i < last; i++) {
      const held = values[i] - sweep[i] * below;
      const isHeld = held > payoff[i];
      below = isHeld ? held : payoff[i];
      values[i] = below;
      if (trace) trace.isExercised[i] = isHeld ? 0 : 1;
    }
    if (!hasEuropean) return;
    below = endsHeld.low;
    european[0] = below;
    for (let i = 1; i < last; i++) {
      below = european[i] - sweep[i] * below;
      european[i] = below;
    }
  }

  /** Solves a call's step, from the lowest spot up and from the exercised end down. */
  private solveDownward(values: Float64Array, european: Float64Array, step: Step, trace?: Trace): void {
    const { lower, middle, upper, sweep, payoff } = this.work;
    const { explicit, implicit, ends, endsHeld } = step;
    const last = values.length - 1;
    const hasEuropean = european.length > 0;
    let before = values[0];
    let below = ends.low;
    let europeanBefore = 0;
    let europeanBelow = endsHeld.low;
    let swept = 0;
    values[0] = below;
    if (hasEuropean) {
      europeanBefore = european[0];
      european[0] = europeanBelow;
    }
    for (let i = 1; i < last; i++) {
      const l = lower[i];
      const m = middle[i];
      const u = upper[i];
      const beside = -implicit * l;
      const pivot = 1 / (1 - implicit * m - beside * swept);
      swept = -implicit * u * pivot;
      sweep[i] = swept;
      if (trace) trace.pivot[i] = pivot;
      const here = values[i];
      below = (here + explicit * (l * before + m * here + u * values[i + 1]) - beside * below) * pivot;
      values[i] = below;
      before = here;
      if (!hasEuropean) continue;
      const europeanHere = european[i];
      europeanBelow =
        (europeanHere +
          explicit * (l * europeanBefore + m * europeanHere + u * european[i + 1]) -
          beside * europeanBelow) *
        pivot;
      european[i] = europeanBelow;
      europeanBefore = europeanHere;
    }
    let above = ends.high;
    values[last] = above;
    for (let i = last - 1; i > 0; i--) {
      const held = values[i] - sweep[i] * above;
      const isHeld = held > payoff[i];
      above = isHeld ? held : payoff[i];
      values[i] = above;
      if (trace) trace.isExercised[i] = isHeld ? 0 : 1;
    }
    if (!hasEuropean) return;
    above = endsHeld.high;
    european[last] = above;
    for (let i = last - 1; i > 0; i--) {
      above = european[i] - sweep[i] * above;
      european[i] = above;
    }
  }

  /** A tangent through the elimination of {@link solveUpward}: none where the option is exercised. */
  private followUpward(tangent: Float64Array, { pivot, isExercised }: Trace, implicit: number): void {
    const { upper, right, sweep } = this.work;
    const last = tangent.length - 1;
    tangent[last] = right[last];
    for (let i = last - 1; i > 0; i--) tangent[i] = (right[i] + implicit * upper[i] * tangent[i + 1]) * pivot[i];
    tangent[0] = right[0];
    for (let i = 1; i < last; i++) tangent[i] = isExercised[i] ? 0 : tangent[i] - sweep[i] * tangent[i - 1];
  }

  /** Values and their European counterparts of {@link solveDownward}. */
  private followDownward(tangent: Float64Array, { pivot, isExercised }: Trace, implicit: number): void {
    const { lower, right, sweep } = this.work;
    const last = tangent.length - 1;
    tangent[0] = right[0];
    for (let i = 1; i < last; i++) tangent[i] = (right[i] + implicit * lower[i] * tangent[i - 1]) * pivot[i];
    tangent[last] = right[last];
    for (let i = last - 1; i > 0; i--) tangent[i] = isExercised[i] ? 0 : tangent[i] - sweep[i] * tangent[i + 1];
  }

  /** Thomas' algorithm for (1 - implicit L) V = right; exercised rows are held at their worth, or at nothing. */
  private solve(
    values: Float64Array,
    implicit: number,
    exercise?: { isExercised: Uint8Array; worth?: Float64Array },
  ): void {
    const { lower, middle, upper, right, sweep } = this.work;
    const last = values.length - 1;
    values[0] = right[0];
    sweep[0] = 0;
    for (let i = 1; i < last; i++) {
      if (exercise?.isExercised[i]) {
        sweep[i] = 0;
        values[i] = exercise.worth ? exercise.worth[i] : 0;
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

  /** Value of the ends of the grid `tau` years before expiry, held to the end: certain exercise then, or none. */
  private endsHeld(tau: number): Ends {
    const { o, spots, work } = this;
    const { payoff } = work;
    const last = spots.length - 1;
    const discount = Math.exp(-o.rate * tau);
    if (o.isDigital) return { low: payoff[0] * discount, high: payoff[last] * discount };
    const carried = o.isNormal ? discount : Math.exp(-o.dividendYield * tau);
    const paid = this.worthAhead(tau) * discount;
    const worth = (spot: number) => {
      const held = Math.max(spot * carried - paid, o.isNormal ? -Infinity : 0);
      return Math.max((o.isCall ? 1 : -1) * (held - o.strike * discount), 0);
    };
    return { low: worth(spots[0]), high: worth(spots[last]) };
  }

  /** Of the dividends that are paid after `tau` years before expiry, at expiry. */
  private worthAhead(tau: number): number {
    const { dividends, timeToExpiry } = this.o;
    let sum = 0;
    for (let j = 0; j < dividends.length; j++) if (dividends[j].time > timeToExpiry - tau) sum += this.worths[j];
    return sum;
  }

  /** Derivative of an end by the rate: none where it is exercised or worth nothing. */
  private edgeByRate(i: number, tau: number): number {
    const { o } = this;
    const { payoff } = this.work;
    const { low, high } = this.endsHeld(tau);
    const value = i === 0 ? low : high;
    if (o.isDigital) return -tau * value;
    if (!(value > 0) || (o.isAmerican && value <= payoff[i])) return 0;
    const now = o.timeToExpiry - tau;
    const carryTime = o.isNormal || o.isFuture ? tau : 0;
    let slope = -carryTime * this.spots[i] * Math.exp(-(o.isNormal ? o.rate : o.dividendYield) * tau);
    for (const d of o.dividends)
      if (d.time > now) slope += d.amount * (d.time - now) * Math.exp(-o.rate * (d.time - now));
    return (o.isCall ? 1 : -1) * (slope + o.strike * tau * Math.exp(-o.rate * tau));
  }
}
