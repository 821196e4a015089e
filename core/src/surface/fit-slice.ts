import type { Side } from '../pricing/index.ts';
import { fitSmile, type SliceSmile } from './fit-smile.ts';
import type { ExerciseTerms } from './early-exercise.ts';
import { exerciseTerms, freeQuotes } from './free-quotes.ts';
import { type ImpliedSlice, implySlice, type ImplySliceOptions } from './imply-slice.ts';
import { judgeSlice } from './judge-quotes.ts';
import { applyRestored } from './quote-restored.ts';
import { type Slice, requireSlice } from './slice.ts';
import { smilePoints } from './out-of-the-money-points.ts';
import { markStale } from './stale-quotes.ts';

/** One expiry, judged, on its own forward, in volatility, fitted. American quotes are here as European equivalents. */
export interface FittedSlice extends ImpliedSlice {
  /** Undefined when too few quotes are left for any fit */
  smile?: SliceSmile;
  /** What early exercise adds to the quotes, taken off them here; undefined for European options */
  premium?: Record<Side, Float64Array>;
  /** What they may be exercised into */
  exercise?: ExerciseTerms['underlying'];
}

/**
 * Takes one expiry from quotes to a smile: judges each quote by itself, frees American ones of their early-exercise
 * premium, implies forward and discount factor by parity, turns quotes into volatilities, finds stale ones by the smile
 * of their neighbours, and fits the out-of-the-money mids weighted with their market width, free of butterfly arbitrage.
 * @throws RangeError for a malformed slice
 */
export function fitSlice(quoted: Slice, o: ImplySliceOptions): FittedSlice {
  requireSlice(quoted);
  const verdicts = judgeSlice(quoted);
  applyRestored(quoted, verdicts, o.restored);
  const freed = o.carry.exercise === 'american' ? freeQuotes(quoted, verdicts, o) : undefined;
  const slice = freed?.slice ?? quoted;
  const options: ImplySliceOptions = {
    ...o,
    pairError: freed?.pairError,
    nearby: freed?.forward,
    forwardSource: freed?.isSettled === false ? 'carry' : o.forwardSource,
  };
  const { forward, points, nearby, near } = markStale(slice, verdicts, { ...options, near: freed?.near });
  const state = implySlice(slice, verdicts, { ...options, forward, nearby });
  if (freed && !freed.isSettled) state.forward.reason = 'not-settled';
  const smile = fitSmile(smilePoints(state, points), slice.timeToExpiry, { start: near });
  const exercise = freed && exerciseTerms(state.forward, slice.timeToExpiry, options).underlying;
  return { ...state, premium: freed?.premium, exercise, smile };
}
