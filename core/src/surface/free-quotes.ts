import type { Side } from '../pricing/index.ts';
import { earlyExercisePremium, type ExerciseTerms, type PremiumCurve } from './early-exercise.ts';
import type { ImplySliceOptions } from './imply-slice.ts';
import { sideQuotes, type Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';
import { outOfTheMoneyPoints } from './out-of-the-money-points.ts';
import { impliedYield, sliceForward, type SliceForward } from './slice-forward.ts';
import type { Smile } from './smile.ts';
import { flatSmile, robustSmile, type SmilePoint } from './smile-points.ts';

/** Quotes without what they hold for early exercise. */
export interface FreedQuotes {
  /** The European-equivalent quotes */
  slice: Slice;
  /** What was taken off, per strike */
  premium: Record<Side, Float64Array>;
  /** Of each strike's call less put, from the premiums */
  pairError?: Float64Array;
  rounds: number;
  /** The forward had not settled within the rounds: the carry forward stands */
  isSettled: boolean;
}

/** Relative, on the forward: far below what a tick in every quote would move it. */
const SETTLED_FORWARD = 1e-6;
const MAX_ROUNDS = 6;
/** The miss falls by at least this share of a move of the guess, or the secant is not to be trusted. */
const STEADY = -0.3;
/**
 * Share of a premium by which it may be off: it rests on the rate, which a pair close to exercise says nothing of but by
 * the premium itself.
 */
const PREMIUM_ERROR = 0.3;
/** Between nodes computed anew, a premium is carried along with the forward; this far it has not changed its shape. */
const RECOMPUTED = 3e-4;
/** Share of a quote's half width in which a premium does not bend the smile that it was made from. */
const NEGLIGIBLE = 0.2;

/**
 * Frees American quotes of one expiry from their early-exercise premium: from the carry forward, a smile through the
 * out-of-the-money quotes gives each strike's premium, call and put; what is left of the pairs gives forward and
 * discount factor by parity, those the yield, and so on until the forward moves by less than a millionth.
 * @param verdicts of each quote by itself; not changed
 */
export function freeQuotes(slice: Slice, verdicts: Verdicts, o: ImplySliceOptions): FreedQuotes {
  let state = lightState(slice, verdicts, { ...o, forwardSource: 'carry' });
  let curves: Record<Side, PremiumCurve> | undefined;
  let computedAt = NaN;
  let premium: Record<Side, Float64Array> = { call: zeros(slice), put: zeros(slice) };
  const hasDividends = (o.carry.dividends?.length ?? 0) > 0;
  let guess = state.forward.forward;
  let before: { guess: number; miss: number } | undefined;
  // Discount factor and premium feed each other, so the curve's stands while the forward is sought.
  const { rate } = o.carry;
  let discountFactor = o.discountFactor ?? (rate === undefined ? undefined : Math.exp(-rate * slice.timeToExpiry));
  let isChallenged = o.discountFactor !== undefined || discountFactor === undefined;
  for (let round = hasDividends ? 0 : 1; round <= MAX_ROUNDS; round++) {
    // The first smile still holds the premium: where that shows, the second round computes it anew.
    const isRough = hasDividends
      ? round === 1
      : round === 2 && largestShare(slice, premium, state.forward.forward) > NEGLIGIBLE;
    const isFar = Math.abs(guess / computedAt - 1) > RECOMPUTED;
    if (!curves || isRough || isFar) {
      const next = premiumCurves(state, guess, o, curves ? 'fine' : 'rough');
      if (!next) break;
      curves = next;
      computedAt = guess;
    }
    premium = premiumColumns(slice, curves, guess);
    const freed = less(slice, premium);
    const pairError = premium.call.map((c, i) => PREMIUM_ERROR * (c + premium.put[i]));
    state = lightState(freed, verdicts, { ...o, pairError, discountFactor });
    // Dividends spread as a yield free the smile well enough, not the forward.
    if (round === 0) continue;
    const miss = state.forward.forward - guess;
    if (Math.abs(miss) < SETTLED_FORWARD * guess && round > 1) {
      const result = { slice: freed, premium, pairError, rounds: round, isSettled: true };
      if (isChallenged) return result;
      // With the curve's discount factor all is settled; now parity may contradict it.
      isChallenged = true;
      const free = sliceForward(freed, verdicts, { ...o, pairError });
      if (free.discountFactorSource === 'given') return result;
      ({ discountFactor } = free);
      before = undefined;
      continue;
    }
    // The secant through the last two rounds, when both rest on the full premium.
    const slope = before && round > (hasDividends ? 1 : 2) ? (miss - before.miss) / (guess - before.guess) : -1;
    before = { guess, miss };
    guess -= miss / (slope < STEADY ? slope : -1);
  }
  if (!curves) return { slice, premium, rounds: 0, isSettled: true };
  const carried = lightState(slice, verdicts, { ...o, forwardSource: 'carry' });
  premium = premiumColumns(
    slice,
    premiumCurves(carried, carried.forward.forward, o, 'fine') ?? curves,
    carried.forward.forward,
  );
  return { slice: less(slice, premium), premium, rounds: MAX_ROUNDS, isSettled: false };
}

/** What a round needs of an expiry: its forward, and the out-of-the-money mids in volatility. */
interface LightState {
  slice: Slice;
  forward: SliceForward;
  points: SmilePoint[];
}

function lightState(slice: Slice, verdicts: Verdicts, o: ImplySliceOptions): LightState {
  const forward = sliceForward(slice, verdicts, o);
  return { slice, forward, points: outOfTheMoneyPoints(slice, verdicts, forward) };
}

/** Largest share that a premium has in the half width of its out-of-the-money quote. */
function largestShare(slice: Slice, premium: Record<Side, Float64Array>, forward: number): number {
  let largest = 0;
  slice.strikes.forEach((strike, i) => {
    const side = strike >= forward ? 'call' : 'put';
    const { bid, ask } = sideQuotes(slice, side);
    const width = 0.5 * (ask[i] - bid[i]);
    if (width > 0) largest = Math.max(largest, premium[side][i] / width);
  });
  return largest;
}

function premiumCurves(
  state: LightState,
  forward: number,
  o: ImplySliceOptions,
  detail: 'rough' | 'fine',
): Record<Side, PremiumCurve> | undefined {
  const { points } = state;
  if (points.length === 0) return undefined;
  const { timeToExpiry, strikes } = state.slice;
  const fitted = (robustSmile(points, timeToExpiry) ?? flatSmile(points, timeToExpiry)).smile;
  const smile = within(fitted, points);
  const asked = [Math.log(strikes[0] / forward), Math.log(strikes[strikes.length - 1] / forward)] as const;
  const known = [points[0].k, points[points.length - 1].k] as const;
  return earlyExercisePremium(
    exerciseTerms({ ...state.forward, forward }, timeToExpiry, o),
    smile,
    asked,
    known,
    detail,
  );
}

/** The smile held between the lowest and the highest of its points: few of them may leave a fit to run away between. */
function within(smile: Smile, points: SmilePoint[]): Smile {
  const total = points.map((p) => p.volatility ** 2 * smile.timeToExpiry);
  const [low, high] = [Math.min(...total), Math.max(...total)];
  return { ...smile, totalVariance: (k) => Math.min(Math.max(smile.totalVariance(k), low), high) };
}

/** What the options of an expiry may be exercised into, on its forward. */
export function exerciseTerms(
  f: SliceForward,
  timeToExpiry: number,
  { carry }: Pick<ImplySliceOptions, 'carry'>,
): ExerciseTerms {
  const rate = -Math.log(f.discountFactor) / timeToExpiry;
  if (carry.isFuture) return { timeToExpiry, forward: f.forward, rate, underlying: { kind: 'future' } };
  const { spot, dividends = [] } = carry;
  const dividendYield = impliedYield(f, carry, timeToExpiry);
  return { timeToExpiry, forward: f.forward, rate, underlying: { kind: 'spot', spot, dividendYield, dividends } };
}

function premiumColumns(slice: Slice, curves: Record<Side, PremiumCurve>, forward: number): Record<Side, Float64Array> {
  const column = (curve: PremiumCurve) => slice.strikes.map((strike) => curve(Math.log(strike / forward)));
  return { call: column(curves.call), put: column(curves.put) };
}

/** The quotes less the premiums; a missing bid stays missing, a zero bid stays zero. */
function less(slice: Slice, premium: Record<Side, Float64Array>): Slice {
  const side = (name: Side) => {
    const { bid, ask } = sideQuotes(slice, name);
    return {
      bid: bid.map((b, i) => (b > 0 ? b - premium[name][i] : b)),
      ask: ask.map((a, i) => (a > 0 ? a - premium[name][i] : a)),
    };
  };
  const call = side('call');
  const put = side('put');
  return { ...slice, callBid: call.bid, callAsk: call.ask, putBid: put.bid, putAsk: put.ask };
}

function zeros(slice: Slice): Float64Array {
  return new Float64Array(slice.strikes.length);
}
