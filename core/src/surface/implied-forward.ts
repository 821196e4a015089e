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

/**
 * Forward and discount factor that the options of one expiry imply: call mid - put mid = D (F - K), fitted as a
 * straight line by least squares weighted with the pairs' quoted widths, outliers left out. The start is the median
 * line (Theil 1950, Sen 1968), which nearly a third of wrong pairs cannot turn over.
 * @param verdicts pairs with a verdict on either quote are not used, except `too-wide`
 * @param o.discountFactor when given, only the forward is fitted
 * @param o.pairError standard deviation of each strike's difference beyond what its quotes' widths say
 * @returns tagged: `too-few-pairs` (fewer than 2, or 1 with a given discount factor), `not-a-line` (slope not negative)
 * @see Stoll, H. R. (1969). The relationship between put and call option prices. Journal of Finance 24(5), 801-824.
 * @see Sen, P. K. (1968). Estimates of the regression coefficient based on Kendall's tau. JASA 63(324), 1379-1389.
 */
export function impliedForward(
  slice: Slice,
  verdicts: Verdicts,
  o: { discountFactor?: number; pairError?: Float64Array } = {},
): ImpliedForwardResult {
  const { strikes, callBid, callAsk, putBid, putAsk } = slice;
  const pairs: { strike: number; gap: number; width: number }[] = [];
  for (let i = 0; i < strikes.length; i++) {
    if (!isUsable(verdicts.call[i]) || !isUsable(verdicts.put[i])) continue;
    const quoted = 0.5 * Math.hypot(callAsk[i] - callBid[i], putAsk[i] - putBid[i]);
    const width = o.pairError ? Math.hypot(quoted, o.pairError[i]) : quoted;
    pairs.push({ strike: strikes[i], gap: 0.5 * (callBid[i] + callAsk[i] - putBid[i] - putAsk[i]), width });
  }
  const given = o.discountFactor;
  if (pairs.length < (given === undefined ? 2 : 1)) return { ok: false, reason: 'too-few-pairs' };
  // Locked markets have no width; a small share of the typical one keeps them from outweighing all others.
  const floor = Math.max(0.1 * median(pairs.map((p) => p.width)), 1e-12 * pairs[0].strike);
  const weights = pairs.map((p) => 1 / Math.max(p.width, floor) ** 2);

  let line = medianLine(pairs, given);
  let used = pairs.map(() => true);
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const residuals = pairs.map((p) => Math.abs(p.gap - line.intercept + line.discountFactor * p.strike));
    const standardized = residuals.map((r, i) => r / Math.max(pairs[i].width, floor));
    const scale = Math.max(median(standardized) / 0.6745, WIDTH_SHARE);
    const next = standardized.map((r) => r <= OUTLIER_DEVIATIONS * scale);
    const fitted = weightedLine(pairs, weights, next, given);
    if (!fitted) break;
    const isSettled = round > 0 && next.every((u, i) => u === used[i]);
    line = fitted;
    used = next;
    if (isSettled) break;
  }
  if (!(line.discountFactor > 0)) return { ok: false, reason: 'not-a-line' };
  const forward = line.intercept / line.discountFactor;
  if (!(forward > 0 && forward < Infinity)) return { ok: false, reason: 'not-a-line' };
  const error = lineError(pairs, weights, used, line, given);
  return {
    ok: true,
    forward,
    discountFactor: line.discountFactor,
    strikesUsed: pairs.filter((_, i) => used[i]).map((p) => p.strike),
    strikesLeftOut: pairs.filter((_, i) => !used[i]).map((p) => p.strike),
    forwardError: error.atForward / line.discountFactor,
    discountFactorError: error.ofSlope,
    discountFactorSource: given === undefined ? 'parity' : 'given',
  };
}

interface Line {
  /** D F */
  intercept: number;
  /** Minus the slope */
  discountFactor: number;
}
type Pair = { strike: number; gap: number; width: number };

/** A wide or zero-bid quote still bounds parity; a faulty one does not. */
function isUsable(verdict: Verdicts['call'][number]): boolean {
  return verdict === undefined || verdict === 'too-wide' || verdict === 'below-intrinsic';
}

function medianLine(pairs: Pair[], given: number | undefined): Line {
  let discountFactor = given;
  if (discountFactor === undefined) {
    const slopes: number[] = [];
    for (let i = 0; i < pairs.length; i++) {
      for (let j = i + 1; j < pairs.length; j++) {
        slopes.push((pairs[i].gap - pairs[j].gap) / (pairs[j].strike - pairs[i].strike));
      }
    }
    discountFactor = median(slopes);
  }
  const factor = discountFactor;
  return { discountFactor, intercept: median(pairs.map((p) => p.gap + factor * p.strike)) };
}

function weightedLine(pairs: Pair[], weights: number[], used: boolean[], given: number | undefined): Line | undefined {
  let sum = 0;
  let strikeSum = 0;
  let gapSum = 0;
  pairs.forEach((p, i) => {
    if (!used[i]) return;
    sum += weights[i];
    strikeSum += weights[i] * p.strike;
    gapSum += weights[i] * p.gap;
  });
  if (!(sum > 0)) return undefined;
  const meanStrike = strikeSum / sum;
  const meanGap = gapSum / sum;
  let discountFactor = given;
  if (discountFactor === undefined) {
    let square = 0;
    let product = 0;
    pairs.forEach((p, i) => {
      if (!used[i]) return;
      square += weights[i] * (p.strike - meanStrike) ** 2;
      product += weights[i] * (p.strike - meanStrike) * (p.gap - meanGap);
    });
    if (!(square > 0)) return undefined;
    discountFactor = -product / square;
  }
  return { discountFactor, intercept: meanGap + discountFactor * meanStrike };
}

/** Standard deviations of the line's value at its own zero, the forward, by the residuals, and of its slope, by the widths. */
function lineError(pairs: Pair[], weights: number[], used: boolean[], line: Line, given: number | undefined) {
  const forward = line.intercept / line.discountFactor;
  let sum = 0;
  let strikeSum = 0;
  let count = 0;
  let residual = 0;
  pairs.forEach((p, i) => {
    if (!used[i]) return;
    count++;
    sum += weights[i];
    strikeSum += weights[i] * p.strike;
    residual += weights[i] * (p.gap - line.intercept + line.discountFactor * p.strike) ** 2;
  });
  const meanStrike = strikeSum / sum;
  let square = 0;
  pairs.forEach((p, i) => {
    if (used[i]) square += weights[i] * (p.strike - meanStrike) ** 2;
  });
  const variance = residual / Math.max(1, count - (given === undefined ? 2 : 1));
  const perSquare = given === undefined && square > 0 ? 1 / square : 0;
  return {
    atForward: Math.sqrt(variance * (1 / sum + (forward - meanStrike) ** 2 * perSquare)),
    ofSlope: Math.sqrt(perSquare),
  };
}
