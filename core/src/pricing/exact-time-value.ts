/** 2^27 + 1: splits a double into two halves whose products are exact. */
const SPLITTER = 134217729;

/**
 * price - discountFactor x (high - low) with no more rounding than that of the result: the difference and the product
 * are carried with their errors. Deep in the money the time value is a fraction of the price's last digit, which plain
 * arithmetic would lose. Beyond 1e145 (or under 1e-145) the errors of the product are not exact any more.
 * @see Dekker, T. J. (1971). A floating-point technique for extending the available precision. Numerische Mathematik
 *   18, 224-242.
 */
export function exactTimeValue(price: number, discountFactor: number, high: number, low: number): number {
  const difference = high - low;
  const back = difference - high;
  const differenceError = high - (difference - back) - (low + back);
  const product = discountFactor * difference;
  const a = SPLITTER * discountFactor;
  const a1 = a - (a - discountFactor);
  const a2 = discountFactor - a1;
  const b = SPLITTER * difference;
  const b1 = b - (b - difference);
  const b2 = difference - b1;
  const productError = a2 * b2 - (product - a1 * b1 - a2 * b1 - a1 * b2);
  const rest = productError + discountFactor * differenceError;
  return Number.isFinite(rest) ? price - product - rest : price - product;
}
