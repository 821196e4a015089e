import { median } from '../math/index.ts';
import type { Verdicts } from './judge-quotes.ts';
import { lineError, lineOf, medianLine, residualOf, weightedLine, widthScale } from './parity-line.ts';
import { type ParityPairs, parityPairs, strikesOf } from './parity-pairs.ts';
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
      /** Standard deviation of the discount factor if pairs err by their widths, or more where they do; 0 for a given one */
      discountFactorError: number;
      /** Whether the discount factor was fitted or given */
      discountFactorSource: 'parity' | 'given';
      /** Share that the pairs had in the discount factor, the rest is what was known before: 1 without that, 0 when given */
      parityShare: number;
      /** What the pairs alone say; undefined where they determine no slope */
      parityAlone?: FactorEstimate;
    }
  | { ok: false; reason: 'too-few-pairs' | 'not-a-line' };

/** A discount factor with its standard deviation. */
export interface FactorEstimate {
  discountFactor: number;
  error: number;
}

/** A pair is an outlier beyond this many robust standard deviations (of normal noise 1 in 16,000 is). */
const OUTLIER_DEVIATIONS = 4;
/** Share of the half widths that mids are taken to be off by, at least: keeps exact data from having no scale at all. */
const WIDTH_SHARE = 0.05;
/** The scale of the residuals is settled when it moves by less than this share. */
const SETTLED_SCALE = 0.1;
const MAX_ROUNDS = 20;

/**
 * Forward and discount factor that the options of one expiry imply: call mid - put mid = D (F - K), fitted as a
 * straight line by least squares weighted with the pairs' quoted widths, outliers left out. The start is the median
 * line (Theil 1950, Sen 1968), which nearly a third of wrong pairs cannot turn over.
 * @param verdicts pairs with a verdict on either quote are not used, except `too-wide`
 * @param o.discountFactor when given, only the forward is fitted
 * @param o.prior what is known of the discount factor besides: one more observation of the slope, weighed by its error
 * @param o.nearby what nearly the same quotes have implied: the start instead of the median line
 * @param o.pairError standard deviation of each strike's difference beyond what its quotes' widths say
 * @returns tagged: `too-few-pairs` (fewer than 2, or 1 where the discount factor is given or known besides), `not-a-line`
 *   (slope not negative)
 * @see Stoll, H. R. (1969). The relationship between put and call option prices. Journal of Finance 24(5), 801-824.
 * @see Sen, P. K. (1968). Estimates of the regression coefficient based on Kendall's tau. JASA 63(324), 1379-1389.
 */
export function impliedForward(
  slice: Slice,
  verdicts: Verdicts,
  o: {
    discountFactor?: number;
    prior?: FactorEstimate;
    pairError?: Float64Array;
    nearby?: { forward: number; discountFactor: number };
  } = {},
): ImpliedForwardResult {
  return forwardOfPairs(parityPairs(slice, verdicts, o.pairError), o);
}

/** {@link impliedForward} of pairs that are at hand; their widths are raised to the least that counts. */
export function forwardOfPairs(
  pairs: ParityPairs,
  o: {
    discountFactor?: number;
    prior?: FactorEstimate;
    nearby?: { forward: number; discountFactor: number };
  } = {},
): ImpliedForwardResult {
  const { count, strike, width } = pairs;
  const given = o.discountFactor;
  const prior = given === undefined ? o.prior : undefined;
  if (count < (given === undefined && !prior ? 2 : 1)) return { ok: false, reason: 'too-few-pairs' };
  // Locked markets have no width; a small share of the typical one keeps them from outweighing all others.
  const floor = Math.max(0.1 * median(width, count), 1e-12 * strike[0]);
  for (let i = 0; i < count; i++) width[i] = Math.max(width[i], floor);

  let line = o.nearby ? lineOf(o.nearby, given) : medianLine(pairs, given ?? prior?.discountFactor);
  let { used, next } = pairs;
  used.fill(1, 0, count);
  const { standardized } = pairs;
  let scale = 1;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    for (let i = 0; i < count; i++) standardized[i] = Math.abs(residualOf(pairs, line, i)) / width[i];
    const limit = OUTLIER_DEVIATIONS * Math.max(median(standardized, count) / 0.6745, WIDTH_SHARE);
    let isSettled = round > 0;
    for (let i = 0; i < count; i++) {
      next[i] = standardized[i] <= limit ? 1 : 0;
      if (next[i] !== used[i]) isSettled = false;
    }
    const nextScale = widthScale(pairs, next, line, given);
    // A start on what was known before leaves residuals that are its own: they fall as the pairs get their say.
    if (Math.abs(nextScale - scale) > SETTLED_SCALE * scale) isSettled = false;
    const fitted = weightedLine(pairs, next, { given, prior, scale: nextScale });
    if (!fitted) break;
    line = fitted;
    scale = nextScale;
    [used, next] = [next, used];
    if (isSettled) break;
  }
  if (!(line.discountFactor > 0)) return { ok: false, reason: 'not-a-line' };
  const forward = line.intercept / line.discountFactor;
  if (!(forward > 0 && forward < Infinity)) return { ok: false, reason: 'not-a-line' };
  const error = lineError(pairs, used, line, { given, prior, scale });
  const alone = given === undefined ? weightedLine(pairs, used, { scale: 1 }) : undefined;
  return {
    ok: true,
    forward,
    discountFactor: line.discountFactor,
    strikesUsed: strikesOf(pairs, used, 1),
    strikesLeftOut: strikesOf(pairs, used, 0),
    forwardError: error.atForward / line.discountFactor,
    discountFactorError: error.ofSlope,
    discountFactorSource: given === undefined ? 'parity' : 'given',
    parityShare: given === undefined ? error.parityShare : 0,
    ...(alone ? { parityAlone: { discountFactor: alone.discountFactor, error: error.ofSlopeAlone } } : {}),
  };
}
