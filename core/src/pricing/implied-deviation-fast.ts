import { tableErfcx, tableErfcxDifference, tableExp, tableLog } from '../math/index.ts';

/*
 * The method of implied-deviation.ts for ordinary quotes, on table functions and without allocation. Symbols as there:
 * x = -|ln(forward / strike)|; s total deviation; h = x / s; t = s / 2; b(x, s) normalised Black price; bound e^(x/2).
 * With g = exp(-(h^2 + t^2) / 2) / 2 and E = erfcx, E1 = E(|h + t| / sqrt 2), E2 = E((|h| + t) / sqrt 2):
 *   b = g (E1 - E2) for h + t <= 0,   bound - b = g (E1 + E2) for h + t >= 0,   db / ds = g sqrt(2 / pi).
 * At the inflection point s_c = sqrt(2 |x|), h + t = 0 and g = bound / 2, so b there takes one table look-up.
 */

const SQRT_TWO_PI = 2.5066282746310005;
const SQRT_HALF_PI = 1.2533141373155003;
const SLOPE_PER_G = 0.7978845608028654;
const SQRT_3 = 1.7320508075688772;
const TWO_PI = 6.283185307179586;
/** (|h| + t) / sqrt 2 must stay inside the table of erfcx. */
const LARGEST_SCORE = 40;
/** Half deviation up to which the series for E1 - E2 holds. */
const SMALL_HALF_DEVIATION = 0.02;
/** Relative, on s: the error after such a step is of its fourth power, far below rounding. */
const STEP_TOLERANCE = 2e-4;
const MAX_STEPS = 5;

/**
 * Total deviation s with b(x, s) = beta, or NaN when the quote is not an ordinary one and needs the general kernel.
 * Unchecked: x <= 0, 0 < beta < bound.
 * @see Jäckel, P. (2017). Let's be rational. Wilmott 2017(87), 40-53.
 */
export function fastImpliedDeviation(beta: number, x: number, bound: number): number {
  if (!(x < -1e-14 && x > -30 && beta > 1e-250)) return NaN;
  const sc = Math.sqrt(-2 * x);
  if (sc * Math.SQRT1_2 >= 28) return NaN;
  const ec = tableErfcx(sc * Math.SQRT1_2);
  const bc = 0.5 * bound * (1 - ec);
  // 1 / slope at the inflection point.
  const rc = SQRT_TWO_PI / bound;
  let s: number;
  let branch = 0;
  if (beta < bc) {
    const sl = sc - 0.5 * SQRT_TWO_PI * (1 - ec);
    const h = x / sl;
    const t = 0.5 * sl;
    if (!(sl > 0 && t - h < LARGEST_SCORE)) return NaN;
    const g = 0.5 * tableExp(-0.5 * (h * h + t * t));
    const bl = g * differenceOfTails(h, t);
    const rl = 1 / (g * SLOPE_PER_G);
    if (beta >= bl) {
      const width = bc - bl;
      // Second derivative 0 at the inflection point, the right end.
      const tension = (rc - rl) / (rc - (sc - sl) / width);
      s = rationalCubic((beta - bl) / width, sl, sc, rl * width, rc * width, tension);
    } else {
      branch = -1;
      s = lowerGuess(beta, x, sl, bl);
    }
  } else {
    const su = sc + 0.5 * SQRT_TWO_PI * (1 + ec);
    const h = x / su;
    const t = 0.5 * su;
    if (!(t - h < LARGEST_SCORE)) return NaN;
    const g = 0.5 * tableExp(-0.5 * (h * h + t * t));
    const bu = bound - g * sumOfTails(h, t);
    if (beta <= bu) {
      const ru = 1 / (g * SLOPE_PER_G);
      const width = bu - bc;
      // Second derivative 0 at the inflection point, the left end.
      const tension = (ru - rc) / ((su - sc) / width - rc);
      s = rationalCubic((beta - bc) / width, sc, su, rc * width, ru * width, tension);
    } else {
      branch = 1;
      // N(-s / 2) is nearly straight in bound - beta.
      s = Math.max(-2 * roughQuantile(((bound - beta) / (bound - bu)) * tail(t)), su);
    }
    if (beta > 0.5 * bound) branch = 1;
  }
  const logBeta = branch < 0 ? tableLog(beta) : 0;
  for (let step = 0; step < MAX_STEPS; step++) {
    const h = x / s;
    const t = 0.5 * s;
    if (!(s > 0 && t - h < LARGEST_SCORE)) return NaN;
    const squares = 0.5 * (h * h + t * t);
    // b'' / b' and b''' / b'.
    const h2 = (h * h) / s - 0.25 * s;
    const h3 = h2 * h2 - (3 * h * h) / (s * s) - 0.25;
    let newton: number;
    let second: number;
    let third: number;
    if (branch < 0) {
      const quotient = differenceOfTails(h, t) * SQRT_HALF_PI;
      const lambda = 1 / quotient;
      const logB = tableLog(quotient * (1 / SQRT_TWO_PI)) - squares;
      const perLog = 1 / logB;
      const twist = lambda * (1 + 2 * perLog);
      newton = ((logBeta - logB) * logB * quotient) / logBeta;
      second = h2 - twist;
      third = h3 + 2 * lambda * lambda * (1 + 3 * perLog * (1 + perLog)) - 3 * h2 * twist;
    } else {
      const g = 0.5 * tableExp(-squares);
      const slope = g * SLOPE_PER_G;
      if (branch === 0) {
        const b = h + t > 0 && t > SMALL_HALF_DEVIATION ? bound - g * sumOfTails(h, t) : g * differenceOfTails(h, t);
        newton = (beta - b) / slope;
        second = h2;
        third = h3;
      } else {
        const gap = g * sumOfTails(h, t);
        const mu = slope / gap;
        newton = tableLog(gap / (bound - beta)) / mu;
        second = h2 + mu;
        third = h3 + 3 * h2 * mu + 2 * mu * mu;
      }
    }
    const change = (newton * (1 + 0.5 * second * newton)) / (1 + newton * (second + third * newton * (1 / 6)));
    if (!(Math.abs(change) < 0.5 * s)) return NaN;
    s += change;
    if (Math.abs(change) <= STEP_TOLERANCE * s) return s;
  }
  return NaN;
}

/** E1 - E2; by its series for a small t, where h + t may be positive too. */
function differenceOfTails(h: number, t: number): number {
  return t <= SMALL_HALF_DEVIATION
    ? tableErfcxDifference(-h * Math.SQRT1_2, t * Math.SQRT1_2)
    : tableErfcx(-(h + t) * Math.SQRT1_2) - tableErfcx((t - h) * Math.SQRT1_2);
}

/** E1 + E2 for h + t >= 0. */
function sumOfTails(h: number, t: number): number {
  return tableErfcx((h + t) * Math.SQRT1_2) + tableErfcx((t - h) * Math.SQRT1_2);
}

/** N(-z) for z >= 0 below 40. */
function tail(z: number): number {
  return 0.5 * tableExp(-0.5 * z * z) * tableErfcx(z * Math.SQRT1_2);
}

/**
 * The z <= 0 with N(z) = p for p up to 1/2, absolute error 4.5e-4: enough for a first guess.
 * @see Abramowitz, M. & Stegun, I. (1964). Handbook of Mathematical Functions, formula 26.2.23.
 */
function roughQuantile(p: number): number {
  const t = Math.sqrt(-2 * tableLog(p));
  return (2.515517 + t * (0.802853 + t * 0.010328)) / (1 + t * (1.432788 + t * (0.189269 + t * 0.001308))) - t;
}

/**
 * Value at t in [0, 1] of the rational cubic with values y0, y1, slopes d0, d1 (per unit of t) and a tension.
 * @see Delbourgo, R. & Gregory, J. A. (1985). Shape preserving piecewise rational interpolation. SIAM Journal on
 *   Scientific and Statistical Computing 6(4), 967-976.
 */
function rationalCubic(t: number, y0: number, y1: number, d0: number, d1: number, tension: number): number {
  const u = 1 - t;
  const r = tension > -0.99 ? Math.min(tension, 1e12) : -0.99;
  return (
    (y1 * t * t * t + (r * y1 - d1) * t * t * u + (r * y0 + d0) * t * u * u + y0 * u * u * u) / (1 + (r - 3) * t * u)
  );
}

/** First guess below b(x, sl), by Jäckel's map of that branch, which is nearly straight in beta. */
function lowerGuess(beta: number, x: number, sl: number, bl: number): number {
  const z = -x / (SQRT_3 * sl);
  if (!(z < LARGEST_SCORE)) return NaN;
  const y = z * z;
  const cdf = tail(z);
  const scale = (TWO_PI / (3 * SQRT_3)) * -x;
  const f = scale * cdf * cdf * cdf;
  const slope = TWO_PI * y * cdf * cdf * Math.exp(y + 0.125 * sl * sl);
  const s2 = sl * sl;
  const density = (1 / SQRT_TWO_PI) * tableExp(-0.5 * y);
  const bend =
    (((Math.PI / 6) * y * cdf * (8 * SQRT_3 * sl * -x + ((3 * s2 * (s2 - 8) - 8 * x * x) * cdf) / density)) /
      (s2 * sl)) *
    Math.exp(2 * y + 0.25 * s2);
  const tension = (0.5 * bl * bend + slope - 1) / (slope - f / bl);
  const ratio = beta / bl;
  let value = rationalCubic(ratio, 0, f, bl, slope * bl, tension);
  if (!(value > 0 && value <= f)) value = ratio * f;
  const cube = tableExp(tableLog(value / scale) * (1 / 3));
  return Math.min(-x / (SQRT_3 * -roughQuantile(Math.min(cube, 0.49))), sl);
}
