import type { Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

/** Strikes whose call and put are both usable; the columns may be longer than `count`. */
export interface ParityPairs {
  count: number;
  strike: Float64Array;
  /** Call mid less put mid */
  gap: Float64Array;
  /** Standard deviation of the gap, up to a common factor */
  width: Float64Array;
  /** Room for the rounds */
  standardized: Float64Array;
  used: Uint8Array;
  next: Uint8Array;
}

let room = roomFor(128);

function roomFor(size: number): ParityPairs {
  const column = () => new Float64Array(size);
  const flags = () => new Uint8Array(size);
  return {
    count: 0,
    strike: column(),
    gap: column(),
    width: column(),
    standardized: column(),
    used: flags(),
    next: flags(),
  };
}

/** Pairs in columns of their own. @param o strikes, call mid less put mid, and the standard deviation of that up to a common factor */
export function pairsOf({ strike, gap, width }: Record<'strike' | 'gap' | 'width', ArrayLike<number>>): ParityPairs {
  const pairs = { ...roomFor(strike.length), count: strike.length };
  pairs.strike.set(strike);
  pairs.gap.set(gap);
  pairs.width.set(width);
  return pairs;
}

/** The one set of columns, filled; the next call overwrites it. */
export function parityPairs(slice: Slice, verdicts: Verdicts, pairError: Float64Array | undefined): ParityPairs {
  const { strikes, callBid, callAsk, putBid, putAsk } = slice;
  if (room.strike.length < strikes.length) room = roomFor(2 * strikes.length);
  const { strike, gap, width } = room;
  let count = 0;
  for (let i = 0; i < strikes.length; i++) {
    if (!isUsable(verdicts.call[i]) || !isUsable(verdicts.put[i])) continue;
    const call = callAsk[i] - callBid[i];
    const put = putAsk[i] - putBid[i];
    const beyond = pairError?.[i] ?? 0;
    strike[count] = strikes[i];
    gap[count] = 0.5 * (callBid[i] + callAsk[i] - putBid[i] - putAsk[i]);
    width[count] = Math.sqrt(0.25 * (call * call + put * put) + beyond * beyond);
    count++;
  }
  room.count = count;
  return room;
}

/** Strikes of the pairs that are in use, or that are not. */
export function strikesOf({ count, strike }: ParityPairs, used: Uint8Array, value: 0 | 1): number[] {
  const strikes: number[] = [];
  for (let i = 0; i < count; i++) if (used[i] === value) strikes.push(strike[i]);
  return strikes;
}

/** A wide or zero-bid quote still bounds parity; a faulty one does not. */
function isUsable(verdict: Verdicts['call'][number]): boolean {
  return verdict === undefined || verdict === 'too-wide' || verdict === 'below-intrinsic';
}
