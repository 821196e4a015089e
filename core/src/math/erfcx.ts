const INVERSE_SQRT_PI = 0.56418958354775628695;

/**
 * Scaled complementary error function exp(y^2) erfc(y) for y >= 0.46875, unchecked.
 * Relative error below 3e-16. Symbols: z = 1 / y^2.
 * @see Cody, W. J. (1969). Rational Chebyshev approximations for the error function. Mathematics of Computation 23, 631-637.
 */
export function erfcxTail(y: number): number {
  if (y <= 4) {
    const a =
      (((((((2.15311535474403846e-8 * y + 5.64188496988670089e-1) * y + 8.88314979438837594) * y +
        66.1191906371416295) *
        y +
        298.635138197400131) *
        y +
        881.95222124176909) *
        y +
        1712.04761263407058) *
        y +
        2051.07837782607147) *
        y +
      1230.33935479799725;
    const b =
      (((((((y + 15.7449261107098347) * y + 117.693950891312499) * y + 537.181101862009858) * y + 1621.38957456669019) *
        y +
        3290.79923573345963) *
        y +
        4362.61909014324716) *
        y +
        3439.36767414372164) *
        y +
      1230.33935480374942;
    return a / b;
  }
  const z = 1 / (y * y);
  const a =
    ((((1.63153871373020978e-2 * z + 3.05326634961232344e-1) * z + 3.60344899949804439e-1) * z +
      1.25781726111229246e-1) *
      z +
      1.60837851487422766e-2) *
      z +
    6.58749161529837803e-4;
  const b =
    ((((z + 2.56852019228982242) * z + 1.87295284992346725) * z + 5.27905102951428412e-1) * z +
      6.05183413124413191e-2) *
      z +
    2.33520497626869185e-3;
  return (INVERSE_SQRT_PI - (z * a) / b) / y;
}

/** Error function on |x| <= 0.46875, unchecked; same source as {@link erfcxTail}. */
export function erfCentre(x: number): number {
  const z = x * x;
  const a =
    (((1.85777706184603153e-1 * z + 3.1611237438705656) * z + 113.864154151050156) * z + 377.485237685302021) * z +
    3209.37758913846947;
  const b = (((z + 23.6012909523441209) * z + 244.024637934444173) * z + 1282.61652607737228) * z + 2844.23683343917062;
  return (x * a) / b;
}

/**
 * exp(-z^2 / 2) to full precision for large z, where rounding of z^2 alone would cost z^2 / 2 ulps: z is split into a
 * part with few bits, whose square is exact, and the rest.
 */
export function gaussian(z: number): number {
  const head = Math.trunc(z * 16) / 16;
  return Math.exp(-0.5 * head * head) * Math.exp(-0.5 * (z - head) * (z + head));
}
