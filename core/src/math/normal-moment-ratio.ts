/**
 * Y_n / Y_(n-1) for h <= -2, where Y_n = integral over u > 0 of u^n exp(h u - u^2 / 2) is the n-th derivative of
 * N(h) / n(h). Unchecked. The recurrence Y_(n+1) = h Y_n + n Y_(n-1) cancels forward for negative h; backward, as
 * r_n = n / (r_(n+1) - h), every term is positive, and lower orders follow by the same step.
 * @see Abramowitz & Stegun (1964), section 7.2 (repeated integrals of the error function; recurrence backward).
 */
export function normalMomentRatio(h: number, order: number): number {
  // The start is the positive root of r^2 - h r = n; its error dies by about exp(-2 |h| sqrt(2 n)).
  const last = h < -20 ? 20 : h < -5 ? 45 : 90;
  let ratio = 0.5 * (h + Math.sqrt(h * h + 4 * last));
  for (let n = last - 1; n >= order; n--) ratio = n / (ratio - h);
  return ratio;
}
