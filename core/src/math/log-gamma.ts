/**
 * Logarithm of the gamma function by Stirling's series, its argument raised to 10 and more first.
 * @param x > 0
 * @see Abramowitz, M. & Stegun, I. A. (1964). Handbook of Mathematical Functions, formula 6.1.41. Absolute error below 1e-13.
 */
export function logGamma(x: number): number {
  let shift = 0;
  let z = x;
  for (; z < 10; z++) shift += Math.log(z);
  const w = 1 / (z * z);
  const series = 1 / 12 - w * (1 / 360 - w * (1 / 1260 - w * (1 / 1680 - w * (1 / 1188 - (w * 691) / 360360))));
  return (z - 0.5) * Math.log(z) - z + 0.5 * Math.log(2 * Math.PI) + series / z - shift;
}
