import { type DailyBars, fitGarch, type GarchFit, nextGarchVariance } from '../volatility/index.ts';
import type { TouchLevels } from './touch-probability.ts';

/** Paths drawn from an underlying's own past: logarithms of the price over that at the start, one a path in the order drawn. */
export interface HistoryPaths {
  end: Float64Array;
  lowest: Float64Array;
  highest: Float64Array;
}

export interface HistoryInput {
  past: LearntHistory;
  /** To the horizon, > 0; a part of one comes first, with its share of the variance */
  sessions: number;
  /** Growth of the expected price until then, as a logarithm: the paths are recentred to it */
  growth: number;
  paths: number;
  /** Random numbers on [0, 1), from a seeded source */
  uniform: () => number;
}

/** Fewer sessions hold too few of the rare ones that odds are about. */
export const LEAST_HISTORY = 250;
/** A smaller part of a session is rounding. */
const LEAST_PART = 1e-6;

/** Sessions of an underlying's past, each in units of the deviation that was expected of it, and the law of that deviation. */
export interface LearntHistory {
  fit: GarchFit;
  /** Over the close before, as logarithms */
  close: Float64Array;
  high: Float64Array;
  low: Float64Array;
}

/**
 * Paths by the filtered bootstrap: sessions are drawn from the past, each divided by the deviation that GARCH(1,1) gave it the
 * session before and multiplied by that of the path, whose variance goes on by the same fit. A drawn session brings its high and
 * low with it. All paths are moved by one factor so that their mean is what it should be.
 * @see Barone-Adesi, G., Giannopoulos, K. & Vosper, L. (1999). VaR without correlations for portfolios of derivative securities.
 *   Journal of Futures Markets 19(5), 583-602.
 */
export function historyPaths({ past, sessions, growth, paths, uniform }: HistoryInput): HistoryPaths {
  const { fit, close, high, low } = past;
  const out = { end: new Float64Array(paths), lowest: new Float64Array(paths), highest: new Float64Array(paths) };
  const part = sessions % 1 < LEAST_PART ? 0 : sessions % 1;
  const whole = Math.round(sessions - part);
  for (let p = 0; p < paths; p++) {
    let variance = fit.nextVariance;
    let [at, lowest, highest] = [0, 0, 0];
    for (let n = part > 0 ? -1 : 0; n < whole; n++) {
      const deviation = Math.sqrt(n < 0 ? variance * part : variance);
      const drawn = Math.floor(uniform() * close.length);
      lowest = Math.min(lowest, at + low[drawn] * deviation);
      highest = Math.max(highest, at + high[drawn] * deviation);
      const moved = close[drawn] * deviation;
      at += moved;
      if (n >= 0) variance = nextGarchVariance(fit, variance, moved);
    }
    out.end[p] = at;
    out.lowest[p] = lowest;
    out.highest[p] = highest;
  }
  recentre(out, growth);
  return out;
}

/**
 * What paths are drawn from: past sessions in units of the deviation that GARCH(1,1) expected of them.
 * @param bars of sessions that have ended
 * @param known a fit of an earlier day, whose variance is carried on; fitted anew without it
 * @returns undefined with fewer than 250 sessions, or where GARCH does not fit
 */
export function learnHistory(bars: DailyBars, known?: GarchFit): LearntHistory | undefined {
  const { previousClose, close, high, low } = bars;
  const told = Array.from(close.keys()).filter((i) => !Number.isNaN(previousClose[i]) && !Number.isNaN(close[i]));
  if (told.length < LEAST_HISTORY) return undefined;
  const over = (prices: Float64Array) => Float64Array.from(told, (i) => Math.log(prices[i] / previousClose[i]));
  const returns = over(close);
  const fit = known ?? fitGarch(returns, 'garch');
  if (!fit) return undefined;
  let variance = fit.longVariance;
  const deviation = returns.map((r) => {
    const before = Math.sqrt(variance);
    variance = nextGarchVariance(fit, variance, r);
    return before;
  });
  const standard = (values: Float64Array) => values.map((v, i) => v / deviation[i]);
  return {
    fit: { ...fit, nextVariance: variance },
    close: standard(returns),
    high: standard(over(high)),
    low: standard(over(low)),
  };
}

/** Moves all paths by one factor, reached in equal steps on the way, so that the mean price at the end is as it should be. */
function recentre({ end, lowest, highest }: HistoryPaths, growth: number): void {
  let mean = 0;
  for (const x of end) mean += Math.exp(x) / end.length;
  const shift = growth - Math.log(mean);
  for (let p = 0; p < end.length; p++) {
    end[p] += shift;
    // Where on the way the extreme stood is not kept: half of the factor has come on average.
    lowest[p] = Math.min(0, lowest[p] + 0.5 * shift, end[p]);
    highest[p] = Math.max(0, highest[p] + 0.5 * shift, end[p]);
  }
}

/** A share of drawn paths, and how far the draw may have missed it by one standard deviation. */
export interface DrawnShare {
  probability: number;
  standardError: number;
}

/** Share of paths that ended above a price. @param spot price at the start */
export function pathsAbove({ end }: HistoryPaths, spot: number, price: number): DrawnShare {
  const level = Math.log(price / spot);
  return share(end.length, (p) => end[p] > level);
}

/** Share of paths that reached a level. */
export function pathsTouching({ lowest, highest }: HistoryPaths, spot: number, levels: TouchLevels): DrawnShare {
  const down = levels.lower === undefined ? -Infinity : Math.log(levels.lower / spot);
  const up = levels.upper === undefined ? Infinity : Math.log(levels.upper / spot);
  return share(lowest.length, (p) => lowest[p] <= down || highest[p] >= up);
}

function share(count: number, isSo: (path: number) => boolean): DrawnShare {
  let hits = 0;
  for (let p = 0; p < count; p++) if (isSo(p)) hits++;
  // Half a path either way: a share of 0 or 1 of some thousands is not known to be 0 or 1.
  const held = (hits + 0.5) / (count + 1);
  return { probability: hits / count, standardError: Math.sqrt((held * (1 - held)) / count) };
}
