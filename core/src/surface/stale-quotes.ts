import { europeanSliceGreeksInto, firstGreeksColumns, type Side } from '../pricing/index.ts';
import type { ImpliedSlice } from './imply-slice.ts';
import { type QuoteReason, sideQuotes } from './judge-quotes.ts';
import { isRestored, type RestoredQuote } from './quote-restored.ts';
import type { Slice } from './slice.ts';
import type { SliceForward } from './slice-forward.ts';
import { type Smile, smileVolatility } from './smile.ts';
import { robustSmile, smilePoints } from './smile-points.ts';

/** A mid is stale when it misses its neighbours' smile by this many of its own half widths ... */
const STALE_HALF_WIDTHS = 3;
/** ... and by this many robust deviations of all quotes from that smile, in volatility. */
const STALE_DEVIATIONS = 8;
/** Points that a smile to judge by must rest on before doubtful ones are set aside. */
const LEAST_TRUSTED = 7;

/** A quote that misses by at least this share of what the worst does goes out with it: one alone bends no more than itself. */
const WITH_THE_WORST = 0.5;

export interface StaleQuote {
  side: Side;
  index: number;
  /** Its strike's pair entered the forward */
  isOnForward: boolean;
}

/**
 * The quotes, of either side, that miss the smile of all others by most, if they miss by more than the limits allow.
 * In-the-money quotes are looked at through their time value on the same forward.
 */
export function worstStale(state: ImpliedSlice, restored: RestoredQuote[] | undefined): StaleQuote[] {
  const { slice, forward } = state;
  // Where call and put contradict each other one of them is wrong: neither may shape the smile that both are judged by.
  const doubtful = new Set(forward.strikesLeftOut);
  const points = smilePoints(state);
  const trusted = points.filter((p) => !doubtful.has(slice.strikes[p.index]));
  const robust = robustSmile(trusted.length >= LEAST_TRUSTED ? trusted : points, slice.timeToExpiry);
  if (!robust) return [];
  const theory = theoryOf(slice, forward, robust.smile);
  const found: (StaleQuote & { excess: number })[] = [];
  let most = 1;
  for (const side of ['call', 'put'] as const) {
    const { bid, ask } = sideQuotes(slice, side);
    for (let i = 0; i < slice.strikes.length; i++) {
      const verdict: QuoteReason | undefined = state.verdicts[side][i];
      // In the money, a stale quote shows most often as one below its intrinsic value.
      if (verdict !== undefined && verdict !== 'below-intrinsic') continue;
      const strike = slice.strikes[i];
      if (isRestored(restored, side, strike)) continue;
      const { price, vega } = theory[side];
      const miss = Math.abs(0.5 * (bid[i] + ask[i]) - price[i]);
      const halfWidth = 0.5 * (ask[i] - bid[i]);
      const limit = STALE_HALF_WIDTHS * halfWidth + STALE_DEVIATIONS * robust.scale * vega[i];
      const excess = miss / Math.max(limit, 1e-12 * strike);
      if (excess > 1) found.push({ side, index: i, isOnForward: forward.strikesUsed.includes(strike), excess });
      most = Math.max(most, excess);
    }
  }
  return found.filter((q) => q.excess >= WITH_THE_WORST * most);
}

/** Prices and vegas of every strike on a smile, both sides; NaN where the smile has no volatility. */
function theoryOf(slice: Slice, forward: SliceForward, smile: Smile) {
  const { strikes, timeToExpiry } = slice;
  const theory = { call: firstGreeksColumns(strikes.length), put: firstGreeksColumns(strikes.length) };
  const rate = -Math.log(forward.discountFactor) / timeToExpiry;
  europeanSliceGreeksInto(theory.call, theory.put, {
    // A forward is a spot whose yield is the rate.
    spot: forward.forward,
    timeToExpiry,
    rate,
    dividendYield: rate,
    strike: strikes,
    volatility: strikes.map((strike) => smileVolatility(smile, Math.log(strike / forward.forward)) || NaN),
  });
  return theory;
}
