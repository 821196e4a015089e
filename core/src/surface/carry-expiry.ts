import type { CashDividend } from '../pricing/index.ts';
import { exercisePremiums, type ExerciseTerms, type PremiumDetail } from './early-exercise.ts';
import { freedSlice } from './freed-slice.ts';
import type { Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';
import type { CarryInput } from './slice-forward.ts';
import type { SmilePoint } from './smile-points.ts';
import { spotForward } from './spot-carry.ts';
import { tellingPoints } from './telling-points.ts';
import type { PremiumColumns } from './telling-side.ts';
import { type WorkingSmile, workingSmile } from './working-smile.ts';

/** What a spot costs to hold to one expiry. */
export interface ExpiryCarry {
  /** Per year, to this expiry */
  rate: number;
  /** Yield or cost to borrow, per year */
  dividendYield: number;
  /** Paid before the expiry */
  dividends: readonly CashDividend[];
}

/** Strikes whose call and put tell something of the carry: both are quoted, and the one in the money stands above its exercise value. */
export interface CarryPairs {
  index: number[];
  /** Call mid less put mid */
  gap: Float64Array;
  /** Deviation of the gap by the quotes' widths */
  width: Float64Array;
}

/** A smile, and the range of ln(strike / forward) that its quotes cover. */
export interface PointedSmile extends WorkingSmile {
  forward: number;
  range: [number, number];
}

/** What was last seen of an expiry: premiums of early exercise, and the smile of the quotes less nearly those. */
export interface SeenExpiry {
  premium: PremiumColumns;
  smile: PointedSmile;
}

/** One expiry of American options on a spot, as the estimate of its carry sees it. */
export interface CarryExpiry {
  slice: Slice;
  verdicts: Verdicts;
  spot: number;
  carry: CarryInput;
  pairs: CarryPairs;
}

/** Share of its half width by which the option in the money must stand above its exercise value, or it carries nothing. */
const ABOVE_EXERCISE = 0.5;
/** The mids of a call and a put err independently, by about half their half widths each. */
const MID_ERROR = 0.5;

export function carryExpiry(slice: Slice, verdicts: Verdicts, carry: CarryInput): CarryExpiry {
  const { strikes, callBid, callAsk, putBid, putAsk } = slice;
  const { spot } = carry;
  const index: number[] = [];
  const gap = new Float64Array(strikes.length);
  const width = new Float64Array(strikes.length);
  strikes.forEach((strike, i) => {
    if (!isUsable(verdicts.call[i]) || !isUsable(verdicts.put[i])) return;
    const call = 0.5 * (callBid[i] + callAsk[i]);
    const put = 0.5 * (putBid[i] + putAsk[i]);
    const halfCall = 0.5 * (callAsk[i] - callBid[i]);
    const halfPut = 0.5 * (putAsk[i] - putBid[i]);
    const above = strike < spot ? call - (spot - strike) : put - (strike - spot);
    if (!(above > ABOVE_EXERCISE * (strike < spot ? halfCall : halfPut))) return;
    gap[index.length] = call - put;
    width[index.length] = MID_ERROR * Math.hypot(halfCall, halfPut);
    index.push(i);
  });
  return { slice, verdicts, spot, carry, pairs: { index, gap, width } };
}

/** A wide quote still bounds parity; a faulty one, or one without bid, does not. */
function isUsable(verdict: Verdicts['call'][number]): boolean {
  return verdict === undefined || verdict === 'too-wide' || verdict === 'below-intrinsic';
}

/** Discount factor of an expiry under a carry. */
export function discountOf({ slice }: CarryExpiry, c: ExpiryCarry): number {
  return Math.exp(-c.rate * slice.timeToExpiry);
}

/** Forward of an expiry under a carry. */
export function forwardOf({ spot, slice }: CarryExpiry, c: ExpiryCarry): number {
  return spotForward(spot, c.rate - c.dividendYield, c.dividends, slice.timeToExpiry);
}

/**
 * The smile of the quotes less a premium, on a forward.
 * @returns undefined without a usable quote
 */
export function smileOf(
  { slice, verdicts }: CarryExpiry,
  f: { forward: number; discountFactor: number },
  premium?: PremiumColumns,
  start?: PointedSmile,
): PointedSmile | undefined {
  const freed = premium ? freedSlice(slice, premium) : slice;
  const points: SmilePoint[] = tellingPoints(freed, verdicts, f, premium);
  if (points.length === 0) return undefined;
  return {
    ...workingSmile(points, slice.timeToExpiry, start?.parameters),
    forward: f.forward,
    range: [points[0].k, points[points.length - 1].k],
  };
}

/** Premiums of every strike under a carry, each strike with the volatility it has on the smile's own forward. */
export function premiumUnder(
  e: CarryExpiry,
  c: ExpiryCarry,
  pointed: PointedSmile,
  detail: PremiumDetail,
): PremiumColumns {
  const { strikes, timeToExpiry } = e.slice;
  const forward = forwardOf(e, c);
  const shift = Math.log(forward / pointed.forward);
  const { smile, range } = pointed;
  const moved = shift === 0 ? smile : { ...smile, totalVariance: (k: number) => smile.totalVariance(k + shift) };
  const terms: ExerciseTerms = {
    timeToExpiry,
    forward,
    rate: c.rate,
    underlying: { kind: 'spot', spot: e.spot, dividendYield: c.dividendYield, dividends: c.dividends },
  };
  return exercisePremiums(terms, moved, strikes, [range[0] - shift, range[1] - shift], detail);
}

/** What call less put is worth at every pair under a carry. */
export function gapUnder(e: CarryExpiry, c: ExpiryCarry, premium: PremiumColumns): Float64Array {
  const { strikes, timeToExpiry } = e.slice;
  const forward = forwardOf(e, c);
  const discountFactor = Math.exp(-c.rate * timeToExpiry);
  return Float64Array.from(
    e.pairs.index,
    (i) => premium.call[i] - premium.put[i] + discountFactor * (forward - strikes[i]),
  );
}

/** Deviation of each pair's gap: by its widths, by a share of its premiums, and at least by so little of the spot. */
const PREMIUM_SHARE = 0.03;
const LEAST_ERROR = 5e-5;

export function pairErrors({ pairs, spot }: CarryExpiry, premium: PremiumColumns): Float64Array {
  return Float64Array.from(pairs.index, (i, n) =>
    Math.hypot(pairs.width[n], PREMIUM_SHARE * (premium.call[i] + premium.put[i]), LEAST_ERROR * spot),
  );
}
