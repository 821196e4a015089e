import { median } from '../math/index.ts';
import { europeanSliceGreeksInto, firstGreeksColumns, type Side } from '../pricing/index.ts';
import { type ImplySliceOptions, markBelowIntrinsic } from './imply-slice.ts';
import { sideQuotes, type Verdicts } from './judge-quotes.ts';
import { tellingPoints } from './telling-points.ts';
import { isRestored } from './quote-restored.ts';
import type { Slice } from './slice.ts';
import { type SliceForward, sliceForward } from './slice-forward.ts';
import { type Smile, smileVolatility } from './smile.ts';
import { type RobustSmile, robustSmile, type SmilePoint } from './smile-points.ts';
import type { SviRawParameters } from './svi-raw.ts';
import { zeroRate } from './zero-rate.ts';

/** A mid is stale when it misses its neighbours' smile by this many of its own half widths ... */
const STALE_HALF_WIDTHS = 3;
/** ... and by this many robust deviations of all quotes from that smile, in volatility. */
const STALE_DEVIATIONS = 8;
/** Share of an early-exercise premium by which it may itself be off. */
const PREMIUM_SHARE = 0.1;
/** Half widths within which the misses of a strike's call and put are alike. */
const PARTNER_HALF_WIDTHS = 1.2;
/** Quotes on either side that one is held against. */
const NEIGHBOURS = 2;
/** Points that a smile to judge by must rest on before doubtful ones are set aside. */
const LEAST_TRUSTED = 7;

/** A quote that misses by at least this share of what the worst does goes out with it: one alone bends no more than itself. */
const WITH_THE_WORST = 0.5;

/**
 * Gives stale quotes of one expiry their verdict. One can bend the first fit: the worst go out, and what is left is looked
 * at again. The forward is implied anew when a pair that it rests on goes out.
 * @param verdicts of each quote by itself; stale ones and those below their intrinsic value are added
 * @returns what was found of the rest: its forward, and the parameters of a smile near it
 */
export function markStale(
  slice: Slice,
  verdicts: Verdicts,
  o: ImplySliceOptions & Pick<RestOfSlice, 'near'>,
): RestOfSlice {
  let isForwardFinal = true;
  let { near } = o;
  let forward: SliceForward | undefined;
  let { nearby } = o;
  let points: SmilePoint[] = [];
  for (let round = 0; round < 2 * slice.strikes.length; round++) {
    if (!forward) {
      forward = o.jointForward ?? sliceForward(slice, verdicts, { ...o, nearby });
      if (forward.source === 'parity') nearby = forward;
      markBelowIntrinsic(slice, verdicts, forward, o.restored);
      points = tellingPoints(slice, verdicts, forward, o.premium);
    }
    const robust = smileToJudgeBy(slice, points, { forward, near });
    near = robust?.parameters;
    const worst = robust ? worstStale(slice, verdicts, { forward, robust, ...o }) : [];
    if (worst.length === 0) return isForwardFinal ? { forward, points, nearby, near } : { nearby, near };
    for (const { side, index } of worst) verdicts[side][index] = 'stale';
    // Quotes that the forward does not rest on change it little: once, at the end, for all of them.
    isForwardFinal = round === 0 || worst.some((q) => q.isOnForward);
    if (isForwardFinal) forward = undefined;
    else points = points.filter((p) => verdicts[p.side][p.index] === undefined);
  }
  return { nearby, near };
}

export interface RestOfSlice {
  /** Undefined where it is to be implied anew, without the stale quotes */
  forward?: SliceForward;
  /** On that forward */
  points?: SmilePoint[];
  /** One of nearly the same quotes, to start from; undefined where parity does not serve */
  nearby?: ImplySliceOptions['nearby'];
  /** Undefined with too few points for a smile */
  near?: SviRawParameters;
}

interface StaleQuote {
  side: Side;
  index: number;
  /** Its strike's pair entered the forward */
  isOnForward: boolean;
}

/**
 * The quotes, of either side, that miss the smile of all others by most, if they miss by more than the limits allow.
 * In-the-money quotes are looked at through their time value on the same forward.
 */
function worstStale(
  slice: Slice,
  verdicts: Verdicts,
  o: { forward: SliceForward; robust: RobustSmile } & Pick<ImplySliceOptions, 'restored' | 'premium'>,
): StaleQuote[] {
  const { forward, robust, restored, premium } = o;
  const theory = theoryOf(slice, forward, robust.smile);
  const onForward = new Set(forward.strikesUsed);
  const found: (StaleQuote & { excess: number })[] = [];
  let most = 1;
  for (const side of ['call', 'put'] as const) {
    const { bid, ask } = sideQuotes(slice, side);
    const { price, vega } = theory[side];
    // Of each quote, in units of its limit; NaN of one that is not looked at.
    const misses = slice.strikes.map((strike, i) => {
      const verdict = verdicts[side][i];
      // In the money, a stale quote shows most often as one below its intrinsic value.
      if (verdict !== undefined && verdict !== 'below-intrinsic') return NaN;
      const halfWidth = 0.5 * (ask[i] - bid[i]);
      const taken = premium ? PREMIUM_SHARE * premium[side][i] : 0;
      const limit = STALE_HALF_WIDTHS * halfWidth + STALE_DEVIATIONS * robust.scale * vega[i] + taken;
      return (0.5 * (bid[i] + ask[i]) - price[i]) / Math.max(limit, 1e-12 * strike);
    });
    const other = side === 'call' ? 'put' : 'call';
    misses.forEach((miss, i) => {
      // Call and put that are dear or cheap alike are so on purpose: a stale one is alone.
      if (Math.abs(miss) > 1 && hasLikePartner(slice, { side, other, i, verdicts, theory })) return;
      const excess = Math.min(Math.abs(miss), Math.abs(miss - aroundOf(misses, i)));
      const strike = slice.strikes[i];
      if (!(excess > 1) || isRestored(restored, side, strike)) return;
      found.push({ side, index: i, isOnForward: onForward.has(strike), excess });
      most = Math.max(most, excess);
    });
  }
  return found.filter((q) => q.excess >= WITH_THE_WORST * most);
}

/** Whether the other side of a strike is quoted, and misses its smile by as much in volatility. */
function hasLikePartner(
  slice: Slice,
  o: { side: Side; other: Side; i: number; verdicts: Verdicts; theory: ReturnType<typeof theoryOf> },
): boolean {
  const { i, other, side } = o;
  if (o.verdicts[other][i] !== undefined) return false;
  const missOf = (of: Side) => {
    const { bid, ask } = sideQuotes(slice, of);
    return { miss: 0.5 * (bid[i] + ask[i]) - o.theory[of].price[i], half: 0.5 * (ask[i] - bid[i]) };
  };
  const own = missOf(side);
  const partner = missOf(other);
  // Both options of a strike have one vega, so that a volatility moves both prices alike.
  const isAlike = Math.abs(own.miss - partner.miss) < PARTNER_HALF_WIDTHS * Math.hypot(own.half, partner.half);
  return isAlike && Math.abs(partner.miss) > partner.half;
}

/**
 * What the quotes beside one miss by, the middle of up to two on either side: where all of them miss alike it is the smile that is
 * wrong there. 0 without any.
 */
function aroundOf(misses: Float64Array, i: number): number {
  const around: number[] = [];
  for (const step of [-1, 1]) {
    for (let j = i + step, taken = 0; taken < NEIGHBOURS && j >= 0 && j < misses.length; j += step) {
      if (Number.isNaN(misses[j])) continue;
      around.push(misses[j]);
      taken++;
    }
  }
  return median(around) || 0;
}

function smileToJudgeBy(
  slice: Slice,
  points: SmilePoint[],
  { forward, near }: { forward: SliceForward; near?: SviRawParameters },
): RobustSmile | undefined {
  // Where call and put contradict each other one of them is wrong: neither may shape the smile that both are judged by.
  const doubtful = new Set(forward.strikesLeftOut);
  const trusted = doubtful.size === 0 ? points : points.filter((p) => !doubtful.has(slice.strikes[p.index]));
  return robustSmile(trusted.length >= LEAST_TRUSTED ? trusted : points, slice.timeToExpiry, near);
}

/** Prices and vegas of every strike on a smile, both sides; NaN where the smile has no volatility. */
function theoryOf(slice: Slice, forward: SliceForward, smile: Smile) {
  const { strikes, timeToExpiry } = slice;
  const theory = { call: firstGreeksColumns(strikes.length), put: firstGreeksColumns(strikes.length) };
  const rate = zeroRate(forward.discountFactor, timeToExpiry);
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
