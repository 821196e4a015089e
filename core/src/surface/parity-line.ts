import { median } from '../math/index.ts';
import type { ParityPairs } from './parity-pairs.ts';

/** With more pairs than this a third of their slopes will do for a start. */
const MANY_PAIRS = 24;
/** With more than this so many, evenly among them: the slopes grow with the square, and a start is no better for it. */
const MOST_STARTING_PAIRS = 300;

/** Call mid less put mid over strikes: D F - D K. */
export interface ParityLine {
  /** D F */
  intercept: number;
  /** Minus the slope */
  discountFactor: number;
}

/** What a pair lies off the line. */
export function residualOf({ strike, gap }: ParityPairs, line: ParityLine, i: number): number {
  return gap[i] - line.intercept + line.discountFactor * strike[i];
}

/** The line of a forward and discount factor, of which the latter may be given. */
export function lineOf(nearby: { forward: number; discountFactor: number }, given: number | undefined): ParityLine {
  const discountFactor = given ?? nearby.discountFactor;
  return { discountFactor, intercept: discountFactor * nearby.forward };
}

/** The median line (Theil 1950, Sen 1968), which nearly a third of wrong pairs cannot turn over. */
export function medianLine({ count, strike, gap }: ParityPairs, given: number | undefined): ParityLine {
  let discountFactor = given;
  if (discountFactor === undefined) {
    // Of many pairs' slopes every third, evenly among them, has the same median but for noise: it is only a start.
    const step = count > MANY_PAIRS ? 3 : 1;
    const starting = Math.min(count, MOST_STARTING_PAIRS);
    const place = (i: number) => (starting === count ? i : Math.floor((i * count) / starting));
    const slopes = new Float64Array((starting * (starting - 1)) / 2);
    let at = 0;
    for (let m = 0; m < starting; m++) {
      const i = place(m);
      for (let n = m + 1 + (m % step); n < starting; n += step) {
        const j = place(n);
        slopes[at++] = (gap[i] - gap[j]) / (strike[j] - strike[i]);
      }
    }
    discountFactor = median(slopes, at);
  }
  const levels = new Float64Array(count);
  for (let i = 0; i < count; i++) levels[i] = gap[i] + discountFactor * strike[i];
  return { discountFactor, intercept: median(levels) };
}

/** What is known of a line besides its pairs, and what their widths are to be multiplied with. */
export interface LineWeights {
  /** Discount factor that is not to be fitted */
  given?: number;
  /** One more observation of the discount factor, with its standard deviation */
  prior?: { discountFactor: number; error: number };
  /** Variance of the pairs in squares of their widths */
  scale: number;
}

/**
 * Variance of the pairs' residuals in squares of their widths, by their own scatter, but no less than 1: what agrees better than
 * its widths promise is not known the better for it.
 */
export function widthScale(pairs: ParityPairs, used: Uint8Array, line: ParityLine, given: number | undefined): number {
  let kept = 0;
  let residual = 0;
  for (let i = 0; i < pairs.count; i++) {
    if (used[i] === 0) continue;
    kept++;
    residual += (residualOf(pairs, line, i) / pairs.width[i]) ** 2;
  }
  return Math.max(1, residual / Math.max(1, kept - (given === undefined ? 2 : 1)));
}

/** Least squares through the pairs in use, and through the prior; undefined when they determine no line. */
export function weightedLine(pairs: ParityPairs, used: Uint8Array, o: LineWeights): ParityLine | undefined {
  const { count, strike, gap, width } = pairs;
  const { sum, meanStrike, meanGap } = weightedMeans(pairs, used);
  if (!(sum > 0)) return undefined;
  let discountFactor = o.given;
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
    const known = o.prior ? 1 / (o.prior.error * o.prior.error) : 0;
    const weight = square / o.scale + known;
    if (!(weight > 0)) return undefined;
    discountFactor = (-product / o.scale + known * (o.prior?.discountFactor ?? 0)) / weight;
  }
  return { discountFactor, intercept: meanGap + discountFactor * meanStrike };
}

function weightedMeans({ count, strike, gap, width }: ParityPairs, used: Uint8Array) {
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

/**
 * Standard deviations of the line's value at its own zero, the forward, by the residuals; of its slope, with the prior and of
 * the pairs alone; and the share that the pairs have in the slope.
 */
export function lineError(pairs: ParityPairs, used: Uint8Array, line: ParityLine, o: LineWeights) {
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
  const isFitted = o.given === undefined;
  const variance = residual / Math.max(1, kept - (isFitted ? 2 : 1));
  const known = isFitted && o.prior ? 1 / (o.prior.error * o.prior.error) : 0;
  const byPairs = isFitted ? square / o.scale : 0;
  const slopeVariance = byPairs + known > 0 ? 1 / (byPairs + known) : 0;
  return {
    atForward: Math.sqrt(variance / sum + (forward - meanStrike) ** 2 * (isFitted ? slopeVariance : 0)),
    ofSlope: Math.sqrt(slopeVariance),
    ofSlopeAlone: byPairs > 0 ? Math.sqrt(1 / byPairs) : Infinity,
    parityShare: byPairs + known > 0 ? byPairs / (byPairs + known) : 0,
  };
}
