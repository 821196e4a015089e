/**
 * ln(a / b) for positive a and b, unchecked; keeps full relative precision when a and b are close, where forming the
 * quotient first would lose it (a - b is exact there).
 */
export function logRatio(a: number, b: number): number {
  const quotient = a / b;
  if (quotient > 0.5 && quotient < 2) return Math.log1p((a - b) / b);
  // Extreme inputs overflow or underflow the quotient but not the difference of logarithms.
  return quotient > 0 && quotient < Infinity ? Math.log(quotient) : Math.log(a) - Math.log(b);
}
