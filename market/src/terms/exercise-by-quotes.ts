import { impliedForward, judgeAlone, judgeSlice, type Slice } from '@umwelt/core/surface';

/** Something taken to be so, and what tells it. */
export interface Guess<T> {
  value: T;
  reason: string;
}

/** Quotes that must say the same before it counts: one or two may be faulty. */
const LEAST_QUOTES = 3;

/**
 * Exercise that quotes betray. European options in the money may be offered below what exercising at once would pay, when
 * money earns interest or dividends are paid; nobody would leave such an offer of an American one. American options deep in
 * the money are bid above all that parity allows a European one, whose call and put differ by the discounted distance.
 * @param slices of one instant, with the underlying's price
 * @returns undefined when the quotes do not tell
 */
export function exerciseByQuotes(
  slices: readonly (Slice & { underlyingPrice: number })[],
): Guess<'european' | 'american'> | undefined {
  let below = 0;
  let above = 0;
  for (const slice of slices) {
    below += belowExerciseValue(slice);
    above += aboveParity(slice);
  }
  if (below >= LEAST_QUOTES && below > above)
    return { value: 'european', reason: `${below} offers lie below what exercise would pay` };
  if (above >= LEAST_QUOTES && above > below)
    return { value: 'american', reason: `${above} bids lie above what parity allows European options` };
  return undefined;
}

const isGood = (bid: number, ask: number) => {
  const verdict = judgeAlone(bid, ask);
  return verdict === undefined || verdict === 'too-wide';
};

function belowExerciseValue({ underlyingPrice: price, strikes, ...s }: Slice & { underlyingPrice: number }): number {
  let count = 0;
  strikes.forEach((strike, i) => {
    // Half a spread of doubt: the price is of about the instant of the quotes.
    const [call, put] = [1.5 * s.callAsk[i] - 0.5 * s.callBid[i], 1.5 * s.putAsk[i] - 0.5 * s.putBid[i]];
    if (isGood(s.callBid[i], s.callAsk[i]) && call < price - strike) count++;
    if (isGood(s.putBid[i], s.putAsk[i]) && put < strike - price) count++;
  });
  return count;
}

function aboveParity(slice: Slice): number {
  const implied = impliedForward(slice, judgeSlice(slice));
  if (!implied.ok) return 0;
  const { forward, discountFactor } = implied;
  const { strikes, callBid, callAsk, putBid, putAsk } = slice;
  let count = 0;
  strikes.forEach((strike, i) => {
    if (!isGood(callBid[i], callAsk[i]) || !isGood(putBid[i], putAsk[i])) return;
    const distance = discountFactor * (forward - strike);
    // As much beyond the bound as a whole spread: the line itself is fitted to quotes of the same width.
    const doubt = callAsk[i] - callBid[i] + putAsk[i] - putBid[i];
    if (strike < forward && callBid[i] - putAsk[i] > distance + doubt) count++;
    if (strike > forward && putBid[i] - callAsk[i] > doubt - distance) count++;
  });
  return count;
}
