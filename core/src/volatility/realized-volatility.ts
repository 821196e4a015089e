import type { DailyBars } from './daily-bars.ts';
import { SESSIONS_PER_YEAR } from './sessions-per-year.ts';

/** Ways to estimate volatility from daily bars. */
export const REALIZED_ESTIMATORS = [
  'close-to-close',
  'close-to-close-zero-mean',
  'parkinson',
  'garman-klass',
  'garman-klass-overnight',
  'rogers-satchell',
  'yang-zhang',
  'ewma',
] as const;
export type RealizedEstimator = (typeof REALIZED_ESTIMATORS)[number];

/** Weight of the past in the exponentially weighted variance of daily returns. */
export const EWMA_LAMBDA = 0.94;

/** Whether an estimator looks at the close of the session before a bar. */
export function needsPreviousClose(estimator: RealizedEstimator): boolean {
  return PREVIOUS_CLOSE.has(estimator);
}
const PREVIOUS_CLOSE: ReadonlySet<RealizedEstimator> = new Set([
  'close-to-close',
  'close-to-close-zero-mean',
  'garman-klass-overnight',
  'yang-zhang',
  'ewma',
]);

/** Realized volatility of the sessions that end at one. */
export interface Realized {
  /** Per year, decimal; NaN where a session of the window is not known */
  volatility: number;
  /** One standard deviation of it, from how much the sessions' own variances differ; NaN where it cannot be told */
  standardError: number;
}

const UNKNOWN: Realized = { volatility: NaN, standardError: NaN };

/**
 * Realized volatility at the last of a number of sessions, annualized by 252.
 * @param end index of the last session
 * @param window sessions looked at, a whole number from 2; the exponentially weighted one looks at all from the first that is known
 * @throws RangeError for another window
 * @see Parkinson, M. (1980). The extreme value method for estimating the variance of the rate of return. Journal of Business
 *   53(1), 61-65.
 * @see Garman, M. B. & Klass, M. J. (1980). On the estimation of security price volatilities from historical data. Journal of
 *   Business 53(1), 67-78.
 * @see Rogers, L. C. G. & Satchell, S. E. (1991). Estimating variance from high, low and closing prices. Annals of Applied
 *   Probability 1(4), 504-512.
 * @see Yang, D. & Zhang, Q. (2000). Drift-independent volatility estimation based on high, low, open, and close prices. Journal
 *   of Business 73(3), 477-491.
 */
export function realizedVolatility(
  bars: DailyBars,
  end: number,
  o: { estimator: RealizedEstimator; window: number },
): Realized {
  const { estimator, window } = o;
  requireWindow(window);
  if (estimator === 'ewma') return ewmaAt(bars, end);
  const first = end - window + 1;
  if (first < 0) return UNKNOWN;
  const parts = sessionParts(bars, estimator, { first, count: window });
  const variances = new Float64Array(window);
  const variance = windowVariance(parts, { first: 0, count: window }, variances);
  // The spread of the sessions' own variances tells the error of their mean; d(root of x) = dx / (2 root of x).
  let spread = 0;
  for (const v of variances) spread += (v - variance) ** 2;
  const error = Math.sqrt(spread / (window - 1) / window) * SESSIONS_PER_YEAR;
  const volatility = annualized(variance);
  return { volatility, standardError: error / (2 * volatility) };
}

/**
 * The three variances of a session that Yang & Zhang (2000) put together: of the night, from open to close, and by Rogers &
 * Satchell (1991) within the session; NaN where a session of the window is not known.
 */
export function yangZhangParts(
  bars: DailyBars,
  end: number,
  window: number,
): { overnight: number; openToClose: number; rogersSatchell: number } {
  requireWindow(window);
  const first = end - window + 1;
  if (first < 0) return { overnight: NaN, openToClose: NaN, rogersSatchell: NaN };
  const { variances, returns, openToClose } = sessionParts(bars, 'yang-zhang', { first, count: window });
  const whole = { first: 0, count: window };
  return {
    overnight: windowVariance({ returns }, whole),
    openToClose: windowVariance({ returns: openToClose }, whole),
    rogersSatchell: windowVariance({ variances }, whole),
  };
}

/**
 * Realized volatility at every session, NaN until the window is full and where one of its sessions is not known.
 * @throws RangeError for a window that is not a whole number from 2
 * @example realizedSeries(dailyBars(bars), { estimator: 'yang-zhang', window: 21 })
 */
export function realizedSeries(bars: DailyBars, o: { estimator: RealizedEstimator; window: number }): Float64Array {
  const { estimator, window: count } = o;
  requireWindow(count);
  if (estimator === 'ewma') return ewmaSeries(bars);
  const sessions = bars.close.length;
  const parts = sessionParts(bars, estimator, { first: 0, count: sessions });
  const series = new Float64Array(sessions).fill(NaN);
  for (let end = count - 1; end < sessions; end++)
    series[end] = annualized(windowVariance(parts, { first: end - count + 1, count }));
  return series;
}

function requireWindow(window: number): void {
  if (!(Number.isInteger(window) && window >= 2))
    throw new RangeError(`window must be a whole number from 2: ${window}`);
}

function annualized(variance: number): number {
  return Math.sqrt(Math.max(0, variance) * SESSIONS_PER_YEAR);
}

/** What the sessions of a stretch give to an estimate. */
interface SessionParts {
  /** Variances, whose mean enters */
  variances?: Float64Array;
  /** Returns whose deviation about their mean enters: of the whole session, or of the night */
  returns?: Float64Array;
  /** Returns from open to close, whose deviation enters with the weight of Yang & Zhang (2000) */
  openToClose?: Float64Array;
}

function sessionParts(
  bars: DailyBars,
  estimator: Exclude<RealizedEstimator, 'ewma'>,
  { first, count }: { first: number; count: number },
): SessionParts {
  const column = (of: (bars: DailyBars, i: number) => number) =>
    Float64Array.from({ length: count }, (_, i) => of(bars, first + i));
  switch (estimator) {
    case 'close-to-close':
      return { returns: column(closeReturn) };
    case 'close-to-close-zero-mean':
      return { variances: column(closeReturn).map((r) => r * r) };
    case 'parkinson':
      return { variances: column(({ high, low }, i) => Math.log(high[i] / low[i]) ** 2 / (4 * Math.LN2)) };
    case 'garman-klass':
      return { variances: column(garmanKlass) };
    case 'garman-klass-overnight':
      return { variances: column(garmanKlassOvernight) };
    case 'rogers-satchell':
      return { variances: column(rogersSatchell) };
    case 'yang-zhang':
      return {
        variances: column(rogersSatchell),
        returns: column(overnightReturn),
        openToClose: column(({ open, close }, i) => Math.log(close[i] / open[i])),
      };
  }
}

/**
 * Variance of a session over a window.
 * @param each when given, gets what each session gives to it: their mean is the variance
 */
function windowVariance(
  { variances, returns, openToClose }: SessionParts,
  { first, count }: { first: number; count: number },
  each?: Float64Array,
): number {
  // The weight with which the variance of the estimate is least, for the usual alpha of 1.34.
  const weight = openToClose ? 0.34 / (1.34 + (count + 1) / (count - 1)) : 0;
  const level = returns ? meanOf(returns, first, count) : 0;
  const dayLevel = openToClose ? meanOf(openToClose, first, count) : 0;
  const unbiased = count / (count - 1);
  let sum = 0;
  for (let i = 0; i < count; i++) {
    const at = first + i;
    let part = variances ? (1 - weight) * variances[at] : 0;
    if (returns) part += unbiased * (returns[at] - level) ** 2;
    if (openToClose) part += weight * unbiased * (openToClose[at] - dayLevel) ** 2;
    if (each) each[i] = part;
    sum += part;
  }
  return sum / count;
}

function meanOf(values: Float64Array, first: number, count: number): number {
  let sum = 0;
  for (let i = first; i < first + count; i++) sum += values[i];
  return sum / count;
}

/** Return from the close before, dividend and split taken out. */
export function closeReturn({ close, previousClose }: DailyBars, i: number): number {
  return Math.log(close[i] / previousClose[i]);
}

/** Return from the close before to the open. */
export function overnightReturn({ open, previousClose }: DailyBars, i: number): number {
  return Math.log(open[i] / previousClose[i]);
}

/** Variance of one session by Garman & Klass (1980), from its open on. */
function garmanKlass({ open, high, low, close }: DailyBars, i: number): number {
  return 0.5 * Math.log(high[i] / low[i]) ** 2 - (2 * Math.LN2 - 1) * Math.log(close[i] / open[i]) ** 2;
}

/** Variance of one session by Garman & Klass (1980) with that of the night before it. */
export function garmanKlassOvernight(bars: DailyBars, i: number): number {
  return garmanKlass(bars, i) + overnightReturn(bars, i) ** 2;
}

function rogersSatchell({ open, high, low, close }: DailyBars, i: number): number {
  const up = Math.log(high[i] / close[i]) * Math.log(high[i] / open[i]);
  return up + Math.log(low[i] / close[i]) * Math.log(low[i] / open[i]);
}

/**
 * Exponentially weighted at every session, begun with the first squared return that is known, and anew after a gap.
 * @see J.P. Morgan/Reuters (1996). RiskMetrics - Technical Document, 4th ed.
 */
function ewmaSeries(bars: DailyBars): Float64Array {
  let variance = NaN;
  return Float64Array.from(bars.close, (_, i) => {
    const square = closeReturn(bars, i) ** 2;
    variance =
      Number.isNaN(variance) || Number.isNaN(square) ? square : EWMA_LAMBDA * variance + (1 - EWMA_LAMBDA) * square;
    return Math.sqrt(variance * SESSIONS_PER_YEAR);
  });
}

function ewmaAt(bars: DailyBars, end: number): Realized {
  const volatility = ewmaSeries(bars)[end] ?? NaN;
  // Of squares of normal returns: twice the variance squared, weighed by the squares of the weights.
  return { volatility, standardError: volatility * Math.sqrt((1 - EWMA_LAMBDA) / (1 + EWMA_LAMBDA) / 2) };
}
