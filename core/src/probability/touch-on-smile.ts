import type { Smile } from '../surface/index.ts';
import type { TouchLevels } from './touch-probability.ts';

/** Price now and expected at expiry, and the smile there. */
export interface SmilePath {
  spot: number;
  forward: number;
  /** With wings that allow no arbitrage */
  smile: Smile;
}

/** Steps across and through time of the coarser of two grids. */
const ACROSS = 160;
const THROUGH = 80;
/** The side on which no level stands ends where d2 is so far out. */
const FARTHEST = 5.5;
/** A level this near has that many steps between it and the price now ... */
const NEAR_STEPS = 8;
/** ... but no grid has more than this. */
const MOST_ACROSS = 640;
/** First steps that are implicit throughout, in halves: the corner where a level meets expiry is not smooth. */
const DAMPED = 2;
/** Least ratio of densities: where the smile's own is nearly nothing the path would be infinitely fast. */
const LEAST_DENSITY = 0.02;

/**
 * Probability that the price touches a level before expiry if it moves without jumps and as fast, at each price and moment, as
 * gives this smile at expiry and on the way the same smile with the share of its variance that has come. The smile alone does
 * not settle it: jumps make touching less likely. Backward in finite differences on two grids, extrapolated; the drift of the
 * forward is spread evenly over the variance.
 * @returns 0 to 1; within 1e-5 of the closed form for a flat smile
 * @see Dupire, B. (1994). Pricing with a smile. Risk 7(1), 18-20; in implied variance Gatheral, J. (2006). The Volatility
 *   Surface, equation 1.10.
 * @see Rannacher, R. (1984). Finite element solution of diffusion problems with irregular data. Numerische Mathematik 43, 309-327.
 */
export function touchOnSmile(path: SmilePath, levels: TouchLevels): number {
  const { spot } = path;
  const lower = levels.lower === undefined ? undefined : Math.log(levels.lower / spot);
  const upper = levels.upper === undefined ? undefined : Math.log(levels.upper / spot);
  if (lower === undefined && upper === undefined) throw new RangeError('touching needs a level');
  if ((lower !== undefined && lower >= 0) || (upper !== undefined && upper <= 0)) return 1;
  const frame: Frame = {
    low: lower ?? farEnd(path, -1),
    high: upper ?? farEnd(path, 1),
    isLow: lower !== undefined,
    isHigh: upper !== undefined,
  };
  // Beyond what the law reaches nothing touches.
  if (lower !== undefined && upper === undefined && lower < farEnd(path, -1)) return 0;
  if (upper !== undefined && lower === undefined && upper > farEnd(path, 1)) return 0;
  const nearest = Math.min(lower === undefined ? Infinity : -lower, upper ?? Infinity);
  const wanted = Math.ceil((NEAR_STEPS * (frame.high - frame.low)) / nearest);
  const across = Math.min(Math.max(ACROSS, wanted), MOST_ACROSS);
  const through = Math.ceil((THROUGH * across) / ACROSS);
  const coarse = solve(path, frame, across, through);
  const fine = solve(path, frame, 2 * across, 2 * through);
  return Math.min(1, Math.max(0, (4 * fine - coarse) / 3));
}

/** Ends of the grid, logarithms of price over the price now, and at which of them the price has touched. */
interface Frame {
  low: number;
  high: number;
  isLow: boolean;
  isHigh: boolean;
}

/** Where, on a side, the law of the price has no mass left. */
function farEnd({ spot, forward, smile }: SmilePath, side: 1 | -1): number {
  const step = 0.25 * Math.sqrt(smile.totalVariance(0));
  let k = side * step;
  for (let n = 0; n < 400; n++, k += side * step) {
    const deviation = Math.sqrt(smile.totalVariance(k));
    if (Math.abs(-k / deviation - 0.5 * deviation) > FARTHEST) break;
  }
  return k + Math.max(side * Math.log(forward / spot), 0) * side;
}

function solve(path: SmilePath, frame: Frame, across: number, through: number): number {
  const { low, high, isLow, isHigh } = frame;
  const dy = (high - low) / across;
  const rates = new LocalVariance(path, low, dy, across);
  const u = new Float64Array(across + 1);
  if (isLow) u[0] = 1;
  if (isHigh) u[across] = 1;
  const lower = new Float64Array(across + 1);
  const middle = new Float64Array(across + 1);
  const right = new Float64Array(across + 1);
  // Time left runs as a square: near expiry a level is felt over the root of it.
  for (let step = 0; step < through; step++) {
    const from = (step / through) ** 2;
    const to = ((step + 1) / through) ** 2;
    const parts = step < DAMPED ? 2 : 1;
    for (let part = 0; part < parts; part++) {
      const dt = (to - from) / parts;
      const at = 1 - (from + (part + 0.5) * dt);
      rates.at(at);
      advance(u, rates, { dt, dy, implicit: step < DAMPED ? 1 : 0.5 }, { lower, middle, right });
    }
  }
  return readAt(u, -low / dy);
}

/** Coefficients of one step: half the variance and the drift at every node, per unit of the whole variance's time. */
class LocalVariance {
  readonly variance: Float64Array;
  readonly drift: number;
  readonly #dy: number;
  readonly #reach: number;
  readonly #tilt: Float64Array;
  readonly #square: Float64Array;
  readonly #small: Float64Array;
  readonly #bend: Float64Array;
  readonly #whole: Float64Array;

  constructor({ spot, forward, smile }: SmilePath, low: number, dy: number, across: number) {
    this.drift = Math.log(forward / spot);
    this.#dy = dy;
    this.#reach = Math.ceil(Math.abs(this.drift) / dy) + 1;
    const count = across + 1 + 2 * this.#reach;
    this.variance = new Float64Array(across + 1);
    this.#tilt = new Float64Array(count);
    this.#square = new Float64Array(count);
    this.#small = new Float64Array(count);
    this.#bend = new Float64Array(count);
    this.#whole = new Float64Array(count);
    for (let i = 0; i < count; i++) {
      const k = low + (i - this.#reach) * dy;
      const w = smile.totalVariance(k);
      const d = smile.slope(k);
      this.#whole[i] = w;
      this.#tilt[i] = (1 - (k * d) / (2 * w)) ** 2;
      this.#square[i] = (d * d) / (4 * w);
      this.#small[i] = (d * d) / 16;
      this.#bend[i] = 0.5 * smile.curvature(k);
    }
  }

  /** Once a share of the variance has come. */
  at(share: number): void {
    // The smile moves with the forward, which drifts away from the price now.
    const shift = this.#reach - (this.drift * share) / this.#dy;
    const whole = Math.floor(shift);
    const part = shift - whole;
    for (let i = 0; i < this.variance.length; i++) {
      const a = this.#local(i + whole, share);
      this.variance[i] = part === 0 ? a : a + part * (this.#local(i + whole + 1, share) - a);
    }
  }

  #local(i: number, share: number): number {
    const density = this.#tilt[i] - share * this.#square[i] + share * (this.#bend[i] - share * this.#small[i]);
    return this.#whole[i] / Math.max(density, LEAST_DENSITY);
  }
}

/** One step back in time of u_t + v/2 u_yy + (drift - v/2) u_y = 0; both ends keep their values. */
function advance(
  u: Float64Array,
  { variance, drift }: LocalVariance,
  o: { dt: number; dy: number; implicit: number },
  work: { lower: Float64Array; middle: Float64Array; right: Float64Array },
): void {
  const { dt, dy, implicit } = o;
  const { lower, middle, right } = work;
  const last = u.length - 1;
  const explicit = 1 - implicit;
  // Thomas's elimination, forward: row i reads lower u[i-1] + middle u[i] + upper u[i+1] = right.
  let upperBefore = 0;
  let before = u[0];
  for (let i = 1; i < last; i++) {
    const half = (0.5 * variance[i] * dt) / (dy * dy);
    const lean = ((drift - 0.5 * variance[i]) * dt) / (2 * dy);
    const down = half - lean;
    const up = half + lean;
    const old = u[i];
    let known = old + explicit * (down * before - 2 * half * old + up * u[i + 1]);
    before = old;
    const a = -implicit * down;
    let b = 1 + 2 * implicit * half;
    const c = -implicit * up;
    if (i === 1) known -= a * u[0];
    else {
      const m = a / middle[i - 1];
      b -= m * upperBefore;
      known -= m * right[i - 1];
    }
    if (i === last - 1) known -= c * u[last];
    lower[i] = c;
    middle[i] = b;
    right[i] = known;
    upperBefore = c;
  }
  for (let i = last - 1; i > 0; i--) u[i] = (right[i] - (i === last - 1 ? 0 : lower[i] * u[i + 1])) / middle[i];
}

/** Cubic through the four nodes around a place. */
function readAt(u: Float64Array, place: number): number {
  const i = Math.min(Math.max(Math.floor(place) - 1, 0), u.length - 4);
  const t = place - i;
  let sum = 0;
  for (let a = 0; a < 4; a++) {
    let weight = 1;
    for (let b = 0; b < 4; b++) if (b !== a) weight *= (t - b) / (a - b);
    sum += weight * u[i + a];
  }
  return sum;
}
