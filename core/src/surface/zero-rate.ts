/** Continuously compounded rate per year behind a discount factor. @param timeToExpiry years, > 0 */
export function zeroRate(discountFactor: number, timeToExpiry: number): number {
  return -Math.log(discountFactor) / timeToExpiry;
}
