import { erfCentre, erfcxTail, gaussian } from './erfcx.ts';

const SQRT_HALF = Math.SQRT1_2;
const INVERSE_SQRT_TWO_PI = 0.3989422804014326779;
const SQRT_HALF_PI = 1.2533141373155002512;
/** Cody's central interval ends here in y = |z| / sqrt 2. */
const CENTRE = 0.46875;

/**
 * Density of the standard normal distribution.
 * @param z any number; returns 0 at plus or minus infinity
 * @example normalDensity(0) // 0.3989422804014327
 */
export function normalDensity(z: number): number {
  return Math.abs(z) === Infinity ? 0 : INVERSE_SQRT_TWO_PI * gaussian(z);
}

/**
 * Probability that a standard normal variable is below z.
 * Relative error below 1e-15 down to z = -37 (below that results are subnormal and lose digits; 0 under -38.6).
 * @param z any number; NaN gives NaN
 * @see Cody, W. J. (1969). Rational Chebyshev approximations for the error function. Mathematics of Computation 23, 631-637.
 * @example normalCdf(-1.6449) // 0.04999 (tables print 0.0500)
 */
export function normalCdf(z: number): number {
  const y = Math.abs(z) * SQRT_HALF;
  if (y <= CENTRE) return 0.5 + 0.5 * erfCentre(z * SQRT_HALF);
  if (y > 28) return z > 0 ? 1 : 0;
  const tail = 0.5 * gaussian(z) * erfcxTail(y);
  return z > 0 ? 1 - tail : tail;
}

/**
 * {@link normalCdf} where the bell is known already, as in formulas that need two of them.
 * @param bell exp(-z^2 / 2); its error is the result's
 */
export function normalCdfByBell(z: number, bell: number): number {
  const y = Math.abs(z) * SQRT_HALF;
  if (y <= CENTRE) return 0.5 + 0.5 * erfCentre(z * SQRT_HALF);
  if (y > 28) return z > 0 ? 1 : 0;
  const tail = 0.5 * bell * erfcxTail(y);
  return z > 0 ? 1 - tail : tail;
}

/**
 * N(z) / n(z), distribution over density: positive, without underflow in the left tail (it tends to -1/z).
 * Relative error below 1e-15 for z <= 1; overflows for z above 38.
 */
export function normalCdfOverDensity(z: number): number {
  const y = -z * SQRT_HALF;
  if (y >= CENTRE) return SQRT_HALF_PI * erfcxTail(y);
  if (y > -CENTRE) return SQRT_HALF_PI * (1 - erfCentre(y)) * Math.exp(0.5 * z * z);
  return SQRT_HALF_PI * (2 / gaussian(z) - erfcxTail(-y));
}

/**
 * The z with normalCdf(z) = probability.
 * Absolute error below 1e-15 (1 + |z|).
 * @param probability 0 to 1; the ends give minus and plus infinity
 * @throws RangeError outside 0 to 1
 * @see Abramowitz, M. & Stegun, I. (1964). Handbook of Mathematical Functions, formula 26.2.23 (first guess, error
 *   4.5e-4), then Halley's method on the distribution above.
 * @example normalQuantile(0.975) // 1.959963984540054
 */
export function normalQuantile(probability: number): number {
  if (!(probability >= 0 && probability <= 1)) throw new RangeError(`probability must lie in [0, 1]: ${probability}`);
  if (probability === 0.5) return 0;
  const upper = probability > 0.5;
  const tail = upper ? 1 - probability : probability;
  if (tail === 0) return upper ? Infinity : -Infinity;
  const t = Math.sqrt(-2 * Math.log(tail));
  let z = -(t - (2.515517 + t * (0.802853 + t * 0.010328)) / (1 + t * (1.432788 + t * (0.189269 + t * 0.001308))));
  // The error shrinks with its cube: 4.5e-4, about 1e-10, then rounding; the third step is for the far tail.
  for (let step = 0; step < 3; step++) {
    const u = normalCdfOverDensity(z) - tail / normalDensity(z);
    z -= u / (1 + 0.5 * z * u);
  }
  return upper ? -z : z;
}
