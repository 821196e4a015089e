import { normalCdf, normalQuantile } from '../math/index.ts';
import { outOfTheMoneyDifference } from './black-kernel.ts';

/*
 * Symbols after Jäckel, P. (2017). Let's be rational. Wilmott 2017(87), 40-53: x = -|ln(forward / strike)|; s total
 * deviation (volatility sqrt(time)); b(x, s) normalised Black price, the out-of-the-money undiscounted price over
 * sqrt(forward strike); beta the given value of b; s_c = sqrt(2 |x|) the inflection point of b in s.
 */

const INVERSE_SQRT_TWO_PI = 0.3989422804014326779;
const SQRT_3 = 1.7320508075688772935;
const TWO_PI = 6.2831853071795864769;

function slope(x: number, s: number): number {
  const h = x / s;
  const t = 0.5 * s;
  return INVERSE_SQRT_TWO_PI * Math.exp(-0.5 * (h * h + t * t));
}

/** b(x, s) / (db / ds); the Gaussian factor cancels, so it neither underflows nor overflows where b does. */
function valueOverSlope(x: number, s: number): number {
  const h = x / s;
  const t = 0.5 * s;
  if (h + t <= 0 || t < 0.02) return outOfTheMoneyDifference(h, t);
  return normalisedBlack(x, s) / slope(x, s);
}

function normalisedBlack(x: number, s: number): number {
  const h = x / s;
  const t = 0.5 * s;
  if (h + t <= 0 || t < 0.02) return slope(x, s) * outOfTheMoneyDifference(h, t);
  return Math.exp(0.5 * x) * normalCdf(h + t) - Math.exp(-0.5 * x) * normalCdf(h - t);
}

/**
 * Rational cubic through both ends with both slopes and a tension r > -1 (3 gives the cubic).
 * @see Delbourgo, R. & Gregory, J. A. (1985). Shape preserving piecewise rational interpolation. SIAM Journal on
 *   Scientific and Statistical Computing 6(4), 967-976.
 */
function rationalCubic(
  at: number,
  o: { x0: number; x1: number; y0: number; y1: number; d0: number; d1: number; tension: number },
): number {
  const h = o.x1 - o.x0;
  if (!(h > 0)) return 0.5 * (o.y0 + o.y1);
  const t = (at - o.x0) / h;
  const u = 1 - t;
  if (!(o.tension < 1e12)) return o.y1 * t + o.y0 * u;
  const top =
    o.y1 * t * t * t +
    (o.tension * o.y1 - h * o.d1) * t * t * u +
    (o.tension * o.y0 + h * o.d0) * t * u * u +
    o.y0 * u * u * u;
  return top / (1 + (o.tension - 3) * t * u);
}

/** Tension that gives the second derivative `bend` at one end; at least just above -1, where the form has no pole. */
function tensionForBend(
  o: { x0: number; x1: number; y0: number; y1: number; d0: number; d1: number },
  bend: number,
  end: 'left' | 'right',
): number {
  const h = o.x1 - o.x0;
  const chord = (o.y1 - o.y0) / h;
  const bottom = end === 'left' ? chord - o.d0 : o.d1 - chord;
  const tension = (0.5 * h * bend + (o.d1 - o.d0)) / bottom;
  return Number.isFinite(tension) ? Math.max(tension, -0.99) : 3;
}

/** Jäckel's map of the lowest branch, which makes it nearly straight, with its first two derivatives by beta. */
function lowerMap(x: number, s: number): { f: number; d: number; bend: number } {
  const z = -x / (SQRT_3 * s);
  const y = z * z;
  const cdf = normalCdf(-z);
  const density = INVERSE_SQRT_TWO_PI * Math.exp(-0.5 * y);
  const s2 = s * s;
  return {
    f: (TWO_PI / (3 * SQRT_3)) * -x * cdf * cdf * cdf,
    d: TWO_PI * y * cdf * cdf * Math.exp(y + 0.125 * s2),
    bend:
      (Math.PI / 6) *
      (y / (s2 * s)) *
      cdf *
      (8 * SQRT_3 * s * -x + ((3 * s2 * (s2 - 8) - 8 * x * x) * cdf) / density) *
      Math.exp(2 * y + 0.25 * s2),
  };
}

type Branch = 'lower' | 'middle' | 'upper';

function firstGuess(beta: number, x: number, bound: number): { s: number; branch: Branch } {
  const sc = Math.sqrt(-2 * x);
  const bc = sc > 0 ? normalisedBlack(x, sc) : 0;
  const dc = sc > 0 ? slope(x, sc) : INVERSE_SQRT_TWO_PI;
  if (beta < bc) {
    const sl = sc - bc / dc;
    const bl = sl > 0 ? normalisedBlack(x, sl) : 0;
    if (beta < bl) {
      const map = lowerMap(x, sl);
      const ends = { x0: 0, x1: bl, y0: 0, y1: map.f, d0: 1, d1: map.d };
      let f = rationalCubic(beta, { ...ends, tension: tensionForBend(ends, map.bend, 'right') });
      if (!(f > 0 && f <= map.f)) f = (beta / bl) * map.f;
      const cube = Math.cbrt((f * 3 * SQRT_3) / (-x * TWO_PI));
      const s = -x / (SQRT_3 * -normalQuantile(Math.min(cube, 0.5)));
      return { s: s > 0 && s <= sl ? s : sl, branch: 'lower' };
    }
    const ends = { x0: bl, x1: bc, y0: sl, y1: sc, d0: 1 / slope(x, sl), d1: 1 / dc };
    return { s: rationalCubic(beta, { ...ends, tension: tensionForBend(ends, 0, 'right') }), branch: 'middle' };
  }
  const su = sc + (bound - bc) / dc;
  const bu = normalisedBlack(x, su);
  if (beta <= bu) {
    const ends = { x0: bc, x1: bu, y0: sc, y1: su, d0: 1 / dc, d1: 1 / slope(x, su) };
    return { s: rationalCubic(beta, { ...ends, tension: tensionForBend(ends, 0, 'left') }), branch: 'middle' };
  }
  // Upper map N(-s / 2): straight to leading order in bound - beta.
  const fu = normalCdf(-0.5 * su);
  const ratio = x / su;
  const d1 = -0.5 * Math.exp(0.5 * ratio * ratio);
  const bend = Math.sqrt(Math.PI / 2) * Math.exp(ratio * ratio + 0.125 * su * su) * (ratio * ratio) * (1 / su);
  const ends = { x0: bu, x1: bound, y0: fu, y1: 0, d0: d1, d1: -0.5 };
  let f = rationalCubic(beta, { ...ends, tension: tensionForBend(ends, bend, 'left') });
  if (!(f > 0 && f < fu)) f = (fu * (bound - beta)) / (bound - bu);
  return { s: Math.max(-2 * normalQuantile(f), su), branch: 'upper' };
}

/** Relative, on s: a step this small leaves an error of its fourth power, far below rounding. */
const STEP_TOLERANCE = 1e-5;
const MAX_STEPS = 24;

/**
 * Total deviation s with b(x, s) = beta, NaN when the iteration does not settle, Infinity for a beta at its bound. Unchecked: x <= 0, 0 < beta < e^(x/2).
 * First guess by rational interpolation on four branches, then third-order Householder steps on 1 / ln b (lower),
 * b (middle) or ln(bound - b) (upper branch), in which the problem is nearly straight.
 */
export function impliedDeviationKernel(beta: number, logBeta: number, x: number): number {
  const bound = Math.exp(0.5 * x);
  if (!(beta < bound)) return Infinity;
  const start = firstGuess(beta, x, bound);
  let s = start.s;
  for (let step = 0; step < MAX_STEPS; step++) {
    const h = x / s;
    const t = 0.5 * s;
    // b'' / b' and b''' / b'.
    const h2 = (h * h) / s - 0.25 * s;
    const h3 = h2 * h2 - (3 * h * h) / (s * s) - 0.25;
    let newton: number;
    let second = h2;
    let third = h3;
    if (start.branch === 'lower') {
      const quotient = valueOverSlope(x, s);
      const lambda = 1 / quotient;
      const logB = Math.log(quotient * INVERSE_SQRT_TWO_PI) - 0.5 * (h * h + t * t);
      newton = ((logBeta - logB) * logB * quotient) / logBeta;
      const twist = lambda * (1 + 2 / logB);
      second = h2 - twist;
      third = h3 + 2 * lambda * lambda * (1 + (3 / logB) * (1 + 1 / logB)) - 3 * h2 * twist;
    } else if (start.branch === 'middle') {
      const b1 = slope(x, s);
      newton = (beta - normalisedBlack(x, s)) / b1;
    } else {
      const b1 = slope(x, s);
      // bound - b = e^(x/2) N(-(h + t)) + e^(-x/2) N(h - t): both terms positive, so nothing cancels at large s.
      const gap = Math.exp(0.5 * x) * normalCdf(-h - t) + Math.exp(-0.5 * x) * normalCdf(h - t);
      const target = bound - beta;
      const mu = b1 / gap;
      newton = Math.log(gap / target) / mu;
      second = h2 + mu;
      third = h3 + 3 * h2 * mu + 2 * mu * mu;
    }
    let change = (newton * (1 + 0.5 * second * newton)) / (1 + newton * (second + (third * newton) / 6));
    if (!Number.isFinite(change) || Math.sign(change) !== Math.sign(newton)) change = newton;
    change = Math.max(change, -0.5 * s);
    s += change;
    if (!(s > 0) || !Number.isFinite(s)) return NaN;
    if (Math.abs(change) <= STEP_TOLERANCE * s) return s;
  }
  return NaN;
}
