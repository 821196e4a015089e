import type { Side } from '../pricing/index.ts';
import { exercisePremiums, type ExerciseTerms, type PremiumDetail } from './early-exercise.ts';
import type { ImplySliceOptions } from './imply-slice.ts';
import { sideQuotes, type Verdicts } from './judge-quotes.ts';
import { freedSlice } from './freed-slice.ts';
import type { Slice } from './slice.ts';
import { tellingPoints } from './telling-points.ts';
import type { PremiumColumns } from './telling-side.ts';
import { workingSmile } from './working-smile.ts';
import { carriedForward, factorPrior, impliedYield, sliceForward, type SliceForward } from './slice-forward.ts';
import type { SmilePoint } from './smile-points.ts';
import type { SviRawParameters } from './svi-raw.ts';
import { zeroRate } from './zero-rate.ts';

/** Quotes without what they hold for early exercise. */
export interface FreedQuotes {
  /** The European-equivalent quotes */
  slice: Slice;
  /** What was taken off, per strike */
  premium: PremiumColumns;
  /** Of each strike's call less put, from the premiums */
  pairError?: Float64Array;
  /** That the freed quotes imply */
  forward?: SliceForward;
  /** Parameters of a smile near theirs */
  near?: SviRawParameters;
  /** The forward had not settled within the rounds: the carry forward stands */
  isSettled: boolean;
}

/** Relative, on the forward: far below what a tick in every quote would move it. */
const SETTLED_FORWARD = 1e-6;
/** Relative, on the discount factor: a call less put moves by so much of the strike's distance from the forward. */
const SETTLED_FACTOR = 1e-5;
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

/** Premiums that are known already, of the smile and carry forward that what is known makes. */
export interface KnownPremium {
  columns: PremiumColumns;
  /** Parameters of the smile; undefined of a flat one */
  near?: SviRawParameters;
}

/**
 * Frees American quotes of one expiry from their early-exercise premium: from the carry forward, a smile through the
 * out-of-the-money quotes gives each strike's premium, call and put; what is left of the pairs gives forward and
 * discount factor by parity, those the yield, and so on until the forward moves by less than a millionth.
 * @param verdicts of each quote by itself; not changed
 * @param o.known premiums on the carry forward to start from
 */
export function freeQuotes(
  slice: Slice,
  verdicts: Verdicts,
  o: ImplySliceOptions & { known?: KnownPremium },
): FreedQuotes {
  const settled = settledQuotes(slice, verdicts, o);
  if (!settled.forward) return settled;
  const points = tellingPoints(settled.slice, verdicts, settled.forward, settled.premium);
  const final = computedPremium(slice, points, settled.forward, o, 'final');
  if (!final) return settled;
  const premium = final.columns;
  const pairError = pairErrors(premium);
  const freed = freedSlice(slice, premium);
  const forward = sliceForward(freed, verdicts, { ...o, pairError });
  return { slice: freed, premium, pairError, forward, near: final.near, isSettled: true };
}

function settledQuotes(slice: Slice, verdicts: Verdicts, o: ImplySliceOptions & { known?: KnownPremium }): FreedQuotes {
  const carried = carriedForward(slice.timeToExpiry, o);
  let freed = slice;
  let forward = carried;
  let computed: ComputedPremium | undefined = o.known && {
    ...o.known,
    forward: carried.forward,
    slopes: columnSlopes(o.known.columns, slice.strikes),
  };
  let premium: PremiumColumns = { call: zeros(slice), put: zeros(slice) };
  const isKnown = o.known !== undefined;
  const hasDividends = !isKnown && (o.carry.dividends?.length ?? 0) > 0;
  let guess = carried.forward;
  let before: { guess: number; miss: number } | undefined;
  // Discount factor and premium feed each other, so what is known besides stands while the forward is sought.
  let discountFactor = o.discountFactor ?? factorPrior(o.carry, slice.timeToExpiry)?.discountFactor;
  let settled: FreedQuotes | undefined;
  let isChallenged = o.discountFactor !== undefined || discountFactor === undefined;
  for (let round = hasDividends ? 0 : 1; round <= MAX_ROUNDS; round++) {
    // The first smile still holds the premium: where that shows, the second round computes it anew.
    const isRough = hasDividends
      ? round === 1
      : !isKnown && round === 2 && largestShare(slice, premium, forward.forward) > NEGLIGIBLE;
    if (!computed || isRough || Math.abs(guess / computed.forward - 1) > RECOMPUTED) {
      const points = tellingPoints(freed, verdicts, forward, premium);
      const next = computedPremium(slice, points, { ...forward, forward: guess }, o, computed ? 'fine' : 'rough');
      if (!next) break;
      computed = next;
    }
    premium = carriedAlong(slice, computed, guess);
    freed = freedSlice(slice, premium);
    const pairError = pairErrors(premium);
    forward = sliceForward(freed, verdicts, { ...o, pairError, discountFactor });
    // Dividends spread as a yield free the smile well enough, not the forward.
    if (round === 0) continue;
    const miss = forward.forward - guess;
    if (Math.abs(miss) < SETTLED_FORWARD * guess && round > 1) {
      const result = { slice: freed, premium, pairError, forward, near: computed.near, isSettled: true };
      if (isChallenged) return result;
      // With that discount factor all is settled; now the pairs have their say in it.
      isChallenged = true;
      const weighed = sliceForward(freed, verdicts, { ...o, pairError });
      if (Math.abs(weighed.discountFactor / (discountFactor as number) - 1) < SETTLED_FACTOR)
        return { ...result, forward: weighed };
      ({ discountFactor } = weighed);
      settled = { ...result, forward: weighed };
      before = undefined;
      continue;
    }
    // The secant through the last two rounds, when both rest on the full premium.
    const slope = before && round > (hasDividends ? 1 : 2) ? (miss - before.miss) / (guess - before.guess) : -1;
    before = { guess, miss };
    guess -= miss / (slope < STEADY ? slope : -1);
  }
  // With the pairs' say in the factor it may circle within less than they tell.
  if (settled) return settled;
  if (!computed) return { slice, premium, isSettled: true };
  const points = tellingPoints(slice, verdicts, carried);
  ({ columns: premium } = computedPremium(slice, points, carried, o, 'final') ?? computed);
  return { slice: freedSlice(slice, premium), premium, isSettled: false };
}

/** What each strike's call less put may be off by, by the premiums that were taken off both. */
export function pairErrors({ call, put }: PremiumColumns): Float64Array {
  const errors = new Float64Array(call.length);
  for (let i = 0; i < errors.length; i++) errors[i] = PREMIUM_ERROR * (call[i] + put[i]);
  return errors;
}

/** Largest share that a premium has in the half width of its out-of-the-money quote. */
function largestShare(slice: Slice, premium: PremiumColumns, forward: number): number {
  let largest = 0;
  slice.strikes.forEach((strike, i) => {
    const side = strike >= forward ? 'call' : 'put';
    const { bid, ask } = sideQuotes(slice, side);
    const width = 0.5 * (ask[i] - bid[i]);
    if (width > 0) largest = Math.max(largest, premium[side][i] / width);
  });
  return largest;
}

/** Premiums per strike on a forward, and how they change with the strike. */
interface ComputedPremium {
  forward: number;
  /** Parameters of the smile; undefined of a flat one */
  near?: SviRawParameters;
  columns: PremiumColumns;
  slopes: PremiumColumns;
}

/** Premiums of every strike on a forward, of the smile through some points; undefined without points. */
function computedPremium(
  { timeToExpiry, strikes }: Slice,
  points: SmilePoint[],
  f: SliceForward,
  o: ImplySliceOptions,
  detail: PremiumDetail,
): ComputedPremium | undefined {
  if (points.length === 0) return undefined;
  const working = workingSmile(points, timeToExpiry);
  const known = [points[0].k, points[points.length - 1].k] as const;
  const columns = exercisePremiums(exerciseTerms(f, timeToExpiry, o), working.smile, strikes, known, detail);
  return { forward: f.forward, near: working.parameters, columns, slopes: columnSlopes(columns, strikes) };
}

function columnSlopes({ call, put }: PremiumColumns, strikes: Float64Array): PremiumColumns {
  return { call: slopesOf(call, strikes), put: slopesOf(put, strikes) };
}

/** Slope of a column at each strike, of the chord between its neighbours. */
function slopesOf(column: Float64Array, strikes: Float64Array): Float64Array {
  const last = strikes.length - 1;
  return column.map((_, i) => {
    const [low, high] = [Math.max(i - 1, 0), Math.min(i + 1, last)];
    return low === high ? 0 : (column[high] - column[low]) / (strikes[high] - strikes[low]);
  });
}

/** The premiums carried along with the forward: a strike has that of the strike as far from the old one. */
function carriedAlong(slice: Slice, { forward, columns, slopes }: ComputedPremium, guess: number) {
  const shift = forward / guess - 1;
  const of = (side: Side) =>
    columns[side].map((premium, i) => Math.max(0, premium + slopes[side][i] * slice.strikes[i] * shift));
  return { call: of('call'), put: of('put') };
}

/** What the options of an expiry may be exercised into, on its forward. */
export function exerciseTerms(
  f: SliceForward,
  timeToExpiry: number,
  { carry }: Pick<ImplySliceOptions, 'carry'>,
): ExerciseTerms {
  const rate = zeroRate(f.discountFactor, timeToExpiry);
  if (carry.isFuture) return { timeToExpiry, forward: f.forward, rate, underlying: { kind: 'future' } };
  const { spot } = carry;
  const besideCash = impliedYield(f, carry, timeToExpiry);
  // Dividends that no yield fits beside, as those worth more than the underlying, are no part of this forward.
  const isCash = Number.isFinite(besideCash);
  const dividends = isCash ? (carry.dividends ?? []) : [];
  const dividendYield = isCash ? besideCash : impliedYield(f, { spot }, timeToExpiry);
  return { timeToExpiry, forward: f.forward, rate, underlying: { kind: 'spot', spot, dividendYield, dividends } };
}

function zeros(slice: Slice): Float64Array {
  return new Float64Array(slice.strikes.length);
}
