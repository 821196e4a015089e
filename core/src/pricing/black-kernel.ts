import { normalCdf, normalCdfOverDensity, normalMomentRatio } from '../math/index.ts';

const INVERSE_SQRT_TWO_PI = 0.3989422804014326779;

/*
 * Symbols of this file: h = ln(forward / strike) / s, at most 0 (out of the money); t = s / 2; s total deviation;
 * Y(z) = N(z) / n(z). Then the out-of-the-money Black price is sqrt(low high) n(h) exp(-t^2 / 2) (Y(h + t) - Y(h - t)),
 * low and high being the discounted forward and strike in ascending order.
 */

/**
 * Below this t the difference Y(h + t) - Y(h - t) is taken from its series: at the limit the plain difference would
 * lose (1 + |h|) / (2 t) roundings, 25 (1 + |h|), and the series' fifth term is still below 1e-16 of the first.
 */
const SERIES_LIMIT = 0.02;

/** (Y(h + t) - Y(h - t)) / 1 for h <= 0 and 0 <= t, with h + t <= 0 or t below the series limit. Unchecked. */
export function outOfTheMoneyDifference(h: number, t: number): number {
  if (t >= SERIES_LIMIT) return normalCdfOverDensity(h + t) - normalCdfOverDensity(h - t);
  return differenceSeries(h, t);
}

/**
 * 2 (t Y' + t^3 Y''' / 3! + ...). The derivatives obey Y_(n+1) = h Y_n + n Y_(n-1): forward near h = 0, by the ratios
 * of {@link normalMomentRatio} where that would cancel.
 */
function differenceSeries(h: number, t: number): number {
  const y0 = normalCdfOverDensity(h);
  const t2 = t * t;
  if (h > -2) {
    const y1 = 1 + h * y0;
    const y2 = h * y1 + y0;
    const y3 = h * y2 + 2 * y1;
    const y4 = h * y3 + 3 * y2;
    const y5 = h * y4 + 4 * y3;
    const y6 = h * y5 + 5 * y4;
    const y7 = h * y6 + 6 * y5;
    return 2 * t * (y1 + t2 * (y3 / 6 + t2 * (y5 / 120 + (t2 * y7) / 5040)));
  }
  const r7 = normalMomentRatio(h, 7);
  const r6 = 6 / (r7 - h);
  const r5 = 5 / (r6 - h);
  const r4 = 4 / (r5 - h);
  const r3 = 3 / (r4 - h);
  const r2 = 2 / (r3 - h);
  const r1 = 1 / (r2 - h);
  return 2 * t * y0 * r1 * (1 + t2 * r2 * r3 * (1 / 6 + t2 * r4 * r5 * (1 / 120 + (t2 * r6 * r7) / 5040)));
}

/**
 * Value of the out-of-the-money option on two discounted legs. Unchecked.
 * @param low, high discounted forward and strike in ascending order, > 0
 * @param h -|ln(forward / strike)| / s; @param t s / 2, > 0
 */
export function outOfTheMoneyPrice(low: number, high: number, h: number, t: number): number {
  if (t >= SERIES_LIMIT && h + t > 0) return low * normalCdf(h + t) - high * normalCdf(h - t);
  const scale = Math.sqrt(low) * Math.sqrt(high);
  return scale * INVERSE_SQRT_TWO_PI * Math.exp(-0.5 * (h * h + t * t)) * outOfTheMoneyDifference(h, t);
}

/**
 * Price of a call (sign 1) or put (sign -1) with the given total deviation. Unchecked.
 * @param x ln(forward / strike); @param s volatility sqrt(time), >= 0
 */
export function blackPriceKernel(
  sign: number,
  discountedForward: number,
  discountedStrike: number,
  x: number,
  s: number,
) {
  const isIn = sign * x > 0;
  const low = x > 0 ? discountedStrike : discountedForward;
  const high = x > 0 ? discountedForward : discountedStrike;
  const timeValue = s > 0 ? outOfTheMoneyPrice(low, high, -Math.abs(x) / s, 0.5 * s) : 0;
  return isIn ? high - low + timeValue : timeValue;
}
