import { median } from '../math/index.ts';
import type { Verdicts } from './judge-quotes.ts';
import type { Slice } from './slice.ts';

export type ImpliedForwardResult =
  | {
      ok: true;
      forward: number;
      discountFactor: number;
      /** Strikes whose call and put both entered the fit */
      strikesUsed: number[];
      /** Strikes whose pair contradicts the others and was left out */
      strikesLeftOut: number[];
      /** Standard deviation of the fitted forward, in price */
      forwardError: number;
      /** How far the fitted discount factor may be off if pairs err by their widths and `pairError`; 0 for a given one */
      discountFactorError: number;
      /** Whether the discount factor was fitted or given */
      discountFactorSource: 'parity' | 'given';
    }
  | { ok: false; reason: 'too-few-pairs' | 'not-a-line' };

/** A pair is an outlier beyond this many robust standard deviations (of normal noise 1 in 16,000 is). */
const OUTLIER_DEVIATIONS = 4;
/** Share of the half widths that mids are taken to be off by, at least: keeps exact data from having no scale at all. */
const WIDTH_SHARE = 0.05;
const MAX_ROUNDS = 20;
const MANY_PAIRS = 24;

/**
 * Forward and discount factor that the options of one expiry imply: call mid - put mid = D (F - K), fitted as a
 * straight line by least squares weighted with the pairs' quoted widths, outliers left out. The start is the median
 * line (Theil 1950, Sen 1968), which nearly a third of wrong pairs cannot turn over.
 * @param verdicts pairs with a verdict on either quote are not used, except `too-wide`
 * @param o.discountFactor when given, only the forward is fitted
 * @param o.nearby what nearly the same quotes have implied: the start instead of the median line
 * @param o.pairError standard deviation of each strike's difference beyond what its quotes' widths say
 * @returns tagged: `too-few-pairs` (fewer than 2, or 1 with a given discount factor), `not-a-line` (slope not negative)
 * @see Stoll, H. R. (1969). The relationship between put and call option prices. Journal of Finance 24(5), 801-824.
 * @see Sen, P. K. (1968). Estimates of the regression coefficient based on Kendall's tau. JASA 63(324), 1379-1389.
 */
export function impliedForward(
  slice: Slice,
  verdicts: Verdicts,
  o: { discountFactor?: number; pairError?: Float64Array; nearby?: { forward: number; discountFactor: number } } = {},
): ImpliedForwardResult {
  const pairs = pairsOf(slice, verdicts, o.pairError);
  const { count, strike, width } = pairs;
  const given = o.discountFactor;
  if (count < (given === undefined ? 2 : 1)) return { ok: false, reason: 'too-few-pairs' };
  // Locked markets have no width; a small share of the typical one keeps them from outweighing all others.
  const floor = Math.max(0.1 * median(width, count), 1e-12 * strike[0]);
  for (let i = 0; i < count; i++) width[i] = Math.max(width[i], floor);

  let line = o.nearby ? lineOf(o.nearby, given) : medianLine(pairs, given);
  let { used, next } = pairs;
  used.fill(1, 0, count);
  const { standardized } = pairs;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    for (let i = 0; i < count; i++) standardized[i] = Math.abs(residualOf(pairs, line, i)) / width[i];
    const limit = OUTLIER_DEVIATIONS * Math.max(median(standardized, count) / 0.6745, WIDTH_SHARE);
    let isSettled = round > 0;
    for (let i = 0; i < count; i++) {
      next[i] = standardized[i] <= limit ? 1 : 0;
      if (next[i] !== used[i]) isSettled = false;
    }
    const fitted = weightedLine(pairs, next, given);
    if (!fitted) break;
    line = fitted;
    [used, next] = [next, used];
    if (isSettled) break;
  }
  if (!(line.discountFactor > 0)) return { ok: false, reason: 'not-a-line' };
  const forward = line.intercept / line.discountFactor;
  if (!(forward > 0 && forward < Infinity)) return { ok: false, reason: 'not-a-line' };
  const error = lineError(pairs, used, line, given);
  return {
    ok: true,
    forward,
    discountFactor: line.discountFactor,
    strikesUsed: strikesOf(pairs, used, 1),
    strikesLeftOut: strikesOf(pairs, used, 0),
    forwardError: error.atForward / line.discountFactor,
    discountFactorError: error.ofSlope,
    discountFactorSource: given === undefined ? 'parity' : 'given',
  };
}

/** Strikes whose call and put are both usable; the columns may be longer than `count`. */
interface Pairs {
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

function roomFor(size: number): Pairs {
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

/** The one set of columns, filled; the next call overwrites it. */
function pairsOf(slice: Slice, verdicts: Verdicts, pairError: Float64Array | undefined): Pairs {
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

function strikesOf({ count, strike }: Pairs, used: Uint8Array, value: 0 | 1): number[] {
  const strikes: number[] = [];
  for (let i = 0; i < count; i++) if (used[i] === value) strikes.push(strike[i]);
  return strikes;
}

interface Line {
  /** D F */
  intercept: number;
  /** Minus the slope */
  discountFactor: number;
}
/** What a pair lies off the line. */
function residualOf({ strike, gap }: Pairs, line: Line, i: number): number {
  return gap[i] - line.intercept + line.discountFactor * strike[i];
}

/** A wide or zero-bid quote still bounds parity; a faulty one does not. */
function isUsable(verdict: Verdicts['call'][number]): boolean {
  return verdict === undefined || verdict === 'too-wide' || verdict === 'below-intrinsic';
}

function lineOf(nearby: { forward: number; discountFactor: number }, given: number | undefined): Line {
  const discountFactor = given ?? nearby.discountFactor;
  return { discountFactor, intercept: discountFactor * nearby.forward };
}

function medianLine({ count, strike, gap }: Pairs, given: number | undefined): Line {
  let discountFactor = given;
  if (discountFactor === undefined) {
    // Of many pairs' slopes every third, evenly among them, has the same median but for noise: it is only a start.
    const step = count > MANY_PAIRS ? 3 : 1;
    const slopes = new Float64Array((count * (count - 1)) / 2);
    let at = 0;
    for (let i = 0; i < count; i++) {
      for (let j = i + 1 + (i % step); j < count; j += step) {
        slopes[at++] = (gap[i] - gap[j]) / (strike[j] - strike[i]);
      }
    }
    discountFactor = median(slopes, at);
  }
  const levels = new Float64Array(count);
  for (let i = 0; i < count; i++) levels[i] = gap[i] + discountFactor * strike[i];
  return { discountFactor, intercept: median(levels) };
}

/** Least squares through the pairs in use; undefined when they determine no line. */
function weightedLine(pairs: Pairs, used: Uint8Array, given: number | undefined): Line | undefined {
  const { count, strike, gap, width } = pairs;
  const { sum, meanStrike, meanGap } = weightedMeans(pairs, used);
  if (!(sum > 0)) return undefined;
  let discountFactor = given;
  if (discountFactor === undefined) {
    let square = 0;
    let product = 0;
    for (let i = 0; i < count; i++) {
      if (used[i] === 0) continue;
      const weight = 1 / (width[i] * width[i]);
      const d = strike[i] - meanStrike;
      square += weight * d * d;
      product += weight * d * (gap[i] - meanGap);
    }
    if (!(square > 0)) return undefined;
    discountFactor = -product / square;
  }
  return { discountFactor, intercept: meanGap + discountFactor * meanStrike };
}

function weightedMeans({ count, strike, gap, width }: Pairs, used: Uint8Array) {
  let sum = 0;
  let strikeSum = 0;
  let gapSum = 0;
  for (let i = 0; i < count; i++) {
    if (used[i] === 0) continue;
    const weight = 1 / (width[i] * width[i]);
    sum += weight;
    strikeSum += weight * strike[i];
    gapSum += weight * gap[i];
  }
  return { sum, meanStrike: strikeSum / sum, meanGap: gapSum / sum };
}

/** Standard deviations of the line's value at its own zero, the forward, by the residuals, and of its slope, by the widths. */
function lineError(pairs: Pairs, used: Uint8Array, line: Line, given: number | undefined) {
  const { count, strike, width } = pairs;
  const { sum, meanStrike } = weightedMeans(pairs, used);
  const forward = line.intercept / line.discountFactor;
  let kept = 0;
  let square = 0;
  let residual = 0;
  for (let i = 0; i < count; i++) {
    if (used[i] === 0) continue;
    const weight = 1 / (width[i] * width[i]);
    kept++;
    square += weight * (strike[i] - meanStrike) ** 2;
    residual += weight * residualOf(pairs, line, i) ** 2;
  }
  const variance = residual / Math.max(1, kept - (given === undefined ? 2 : 1));
  const perSquare = given === undefined && square > 0 ? 1 / square : 0;
  return {
    atForward: Math.sqrt(variance * (1 / sum + (forward - meanStrike) ** 2 * perSquare)),
    ofSlope: Math.sqrt(perSquare),
  };
}
