import { logGamma } from './log-gamma.ts';

/**
 * Chance that a chi-squared variable is above a value.
 * @param degrees of freedom, > 0
 * @throws RangeError for other degrees
 * @see Press, W. H., Teukolsky, S. A., Vetterling, W. T. & Flannery, B. P. (2007). Numerical Recipes, 3rd ed., section 6.2:
 *   incomplete gamma function by its series, and by the continued fraction. Relative error below 1e-12.
 * @example chiSquaredTail(16.9189776, 9) // 0.05
 */
export function chiSquaredTail(value: number, degrees: number): number {
  if (!(degrees > 0)) throw new RangeError(`degrees must be above 0: ${degrees}`);
  if (!(value > 0)) return 1;
  const [a, x] = [degrees / 2, value / 2];
  const front = Math.exp(a * Math.log(x) - x - logGamma(a));
  return x < a + 1 ? 1 - front * lowerSeries(a, x) : front * upperFraction(a, x);
}

const MOST_ROUNDS = 1000;

function lowerSeries(a: number, x: number): number {
  let term = 1 / a;
  let sum = term;
  for (let n = 1; n < MOST_ROUNDS && term > sum * 1e-17; n++) {
    term *= x / (a + n);
    sum += term;
  }
  return sum;
}

/** By Lentz's method, forward. */
function upperFraction(a: number, x: number): number {
  const TINY = 1e-300;
  let b = x + 1 - a;
  let c = 1 / TINY;
  let d = 1 / b;
  let value = d;
  for (let n = 1; n < MOST_ROUNDS; n++) {
    const an = -n * (n - a);
    b += 2;
    d = 1 / (an * d + b || TINY);
    c = b + an / c || TINY;
    value *= d * c;
    if (Math.abs(d * c - 1) < 1e-16) break;
  }
  return value;
}
