/**
 * All quotes of one underlying and one expiry at one instant: parallel columns by ascending strike.
 * Prices are per unit of underlying; NaN stands for a missing quote.
 */
export interface Slice {
  /** Years to expiry, > 0 */
  timeToExpiry: number;
  strikes: Float64Array;
  callBid: Float64Array;
  callAsk: Float64Array;
  putBid: Float64Array;
  putAsk: Float64Array;
}

/** Throws a RangeError unless the columns have one length, strikes ascend and are > 0, and time is > 0. */
export function requireSlice(slice: Slice): void {
  const n = slice.strikes.length;
  for (const column of ['callBid', 'callAsk', 'putBid', 'putAsk'] as const) {
    if (slice[column].length !== n) {
      throw new RangeError(`${column} must have one value per strike (${n}): ${slice[column].length}`);
    }
  }
  if (!(slice.timeToExpiry > 0)) throw new RangeError(`timeToExpiry must be above 0: ${slice.timeToExpiry}`);
  for (let i = 0; i < n; i++) {
    if (!(slice.strikes[i] > 0 && slice.strikes[i] < Infinity)) {
      throw new RangeError(`strikes[${i}] must be above 0: ${slice.strikes[i]}`);
    }
    if (i > 0 && !(slice.strikes[i] > slice.strikes[i - 1])) {
      throw new RangeError(`strikes must ascend: strikes[${i}] is ${slice.strikes[i]}`);
    }
  }
}
