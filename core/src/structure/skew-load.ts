/** A leg's part in how much skew a structure buys or sells. */
export interface LoadedLeg {
  quantity: number;
  /** Of one unit, any scale common to all */
  vega: number;
  volatility: number;
  /** At the money, of its expiry */
  atm: number;
}

/**
 * How much dearer than at the money the volatility is that a structure holds: sum(q v (sigma - atm)) / sum(|q v|), a decimal of
 * volatility. Above 0 it pays for skew, below it is paid for it. Our own definition.
 * @returns NaN without any vega
 */
export function skewLoad(legs: readonly LoadedLeg[]): number {
  let [load, weight] = [0, 0];
  for (const { quantity, vega, volatility, atm } of legs) {
    load += quantity * vega * (volatility - atm);
    weight += Math.abs(quantity * vega);
  }
  return load / weight;
}
