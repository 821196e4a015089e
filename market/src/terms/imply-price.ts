import { impliedForward, judgeSlice, type Slice, zeroRate } from '@umwelt/core/surface';

/**
 * Price of an underlying that the options of one instant imply by parity: the nearest forward, discounted at the rate that
 * the expiry with the surest discount factor gives. What it yields up to the nearest expiry is not known and left out.
 * @param slices of one instant, nearest expiry first
 * @param o.isFuture the options are on futures: each expiry's forward is its price
 * @returns price for each slice, or undefined when no expiry has enough pairs of calls and puts
 */
export function implyPrice(slices: readonly Slice[], o: { isFuture: boolean }): number[] | undefined {
  const implied = slices.map((slice) => ({
    time: slice.timeToExpiry,
    result: impliedForward(slice, judgeSlice(slice)),
  }));
  const known = implied.flatMap(({ time, result }) => (result.ok ? [{ time, ...result }] : []));
  if (known.length === 0) return undefined;
  const [nearest] = known;
  if (o.isFuture) return implied.map(({ result }) => (result.ok ? result.forward : nearest.forward));
  const surest = known.reduce((a, b) => (b.discountFactorError / b.time < a.discountFactorError / a.time ? b : a));
  const rate = zeroRate(surest.discountFactor, surest.time);
  const price = nearest.forward * Math.exp(-rate * nearest.time);
  return slices.map(() => price);
}
