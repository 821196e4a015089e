import { fitSmile, type SliceSmile } from './fit-smile.ts';
import type { ExerciseTerms } from './early-exercise.ts';
import type { ExpiryEstimate, OwnEstimate } from './estimate-carry.ts';
import { exerciseTerms, type FreedQuotes, freeQuotes, type KnownPremium } from './free-quotes.ts';
import { freedSlice } from './freed-slice.ts';
import { type ImpliedSlice, implySlice, type ImplySliceOptions } from './imply-slice.ts';
import { jointForward } from './joint-forward.ts';
import { judgeSlice, type Verdicts } from './judge-quotes.ts';
import { applyRestored } from './quote-restored.ts';
import { type Slice, requireSlice } from './slice.ts';
import { smilePoints } from './telling-points.ts';
import { markStale } from './stale-quotes.ts';

/** One expiry, judged, on its own forward, in volatility, fitted. American quotes are here as European equivalents. */
export interface FittedSlice extends ImpliedSlice {
  /** Undefined when too few quotes are left for any fit */
  smile?: SliceSmile;
  /** What they may be exercised into */
  exercise?: ExerciseTerms['underlying'];
}

/** With what all expiries of a chain tell together, where that is known. */
export interface FitSliceOptions extends ImplySliceOptions {
  joint?: ExpiryEstimate & { own: OwnEstimate };
  /** Premiums of early exercise on the carry forward, where it is known to serve */
  known?: KnownPremium;
}

/**
 * Takes one expiry from quotes to a smile: judges each quote by itself, frees American ones of their early-exercise
 * premium, implies forward and discount factor by parity, turns quotes into volatilities, finds stale ones by the smile
 * of their neighbours, and fits the out-of-the-money mids weighted with their market width, free of butterfly arbitrage.
 * @throws RangeError for a malformed slice
 */
export function fitSlice(quoted: Slice, o: FitSliceOptions): FittedSlice {
  requireSlice(quoted);
  const verdicts = judgeSlice(quoted);
  applyRestored(quoted, verdicts, o.restored);
  const freed = freedQuotes(quoted, verdicts, o);
  const slice = freed?.slice ?? quoted;
  const options: ImplySliceOptions = {
    ...o,
    ...(o.joint ? { jointForward: freed?.forward } : {}),
    premium: freed?.premium,
    pairError: freed?.pairError,
    nearby: freed?.forward,
    forwardSource: freed?.isSettled === false ? 'carry' : o.forwardSource,
  };
  const { forward, points, nearby, near } = markStale(slice, verdicts, { ...options, near: freed?.near });
  const state = implySlice(slice, verdicts, { ...options, forward, nearby });
  if (freed && !freed.isSettled) state.forward.reason = 'not-settled';
  const smile = fitSmile(smilePoints(state, points), slice.timeToExpiry, { start: near });
  const carry = o.joint ? { ...o.carry, dividends: o.joint.carry.dividends } : o.carry;
  const exercise = freed && exerciseTerms(state.forward, slice.timeToExpiry, { carry }).underlying;
  return { ...state, exercise, smile };
}

/** American quotes without their early exercise, by what all expiries tell together where that is known; undefined of European ones. */
function freedQuotes(quoted: Slice, verdicts: Verdicts, o: FitSliceOptions): FreedQuotes | undefined {
  if (o.joint) {
    const { premium } = o.joint.own;
    const forward = jointForward(o.joint, o.carry, quoted.timeToExpiry);
    return { slice: freedSlice(quoted, premium), premium, forward, isSettled: true };
  }
  return o.carry.exercise === 'american' ? freeQuotes(quoted, verdicts, o) : undefined;
}
