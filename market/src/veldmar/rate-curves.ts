import { TODAY_DAY } from './sessions.ts';

export interface RateCurve {
  /** Ascending */
  days: number[];
  /** Per year, continuously compounded */
  rates: number[];
}

const DAYS = [1, 7, 30, 90, 180, 365, 730];
/** Today's curves. */
const CURVES: Record<string, readonly number[]> = {
  XTS: [0.0302, 0.0303, 0.0306, 0.0314, 0.0322, 0.0331, 0.0338],
  TRN: [0.0118, 0.0118, 0.012, 0.0126, 0.0134, 0.0147, 0.0162],
  GUL: [0.0415, 0.0414, 0.0412, 0.0405, 0.0396, 0.0383, 0.0371],
  AUK: [0.062, 0.0621, 0.0622, 0.062, 0.0612, 0.0596, 0.0575],
};
/** Currencies whose curves are published: the auk has a rate, and nobody quotes it. */
export const CURRENCIES = Object.keys(CURVES).filter((currency) => currency !== 'AUK');

/** How much lower rates stood a year before today, and the slow swing about that line. */
const RISE_PER_YEAR = 0.0042;
const SWING = 0.0011;

/** A currency's curve on a day. The market's rates rose in the demo's two years. */
export function curveOn(currency: string, day: number): RateCurve {
  const ago = Math.max(0, TODAY_DAY - day) / 365;
  const shift = -RISE_PER_YEAR * ago + SWING * Math.sin(9 * ago);
  const today = CURVES[currency];
  // The short end moves most; rates are quoted to a hundredth of a basis point.
  return {
    days: [...DAYS],
    rates: today.map((rate, i) => Math.round((rate + shift * (1 - 0.08 * i)) * 1e6) / 1e6),
  };
}

/** Rate for a time, linear between the points of a curve, flat outside. @param years >= 0 */
export function rateAt(curve: RateCurve, years: number): number {
  const at = years * 365;
  const { days, rates } = curve;
  const next = days.findIndex((d) => d >= at);
  if (next <= 0) return rates[next === 0 ? 0 : rates.length - 1];
  const share = (at - days[next - 1]) / (days[next] - days[next - 1]);
  return rates[next - 1] + share * (rates[next] - rates[next - 1]);
}
