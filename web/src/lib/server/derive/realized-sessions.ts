import {
  closeReturn,
  type DailyBars,
  overnightReturn,
  type RealizedEstimator,
  realizedSeries,
  realizedVolatility,
  SESSIONS_PER_YEAR,
} from '@umwelt/core/volatility';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { Level } from '../../api/level.ts';
import type { SessionBars } from './session-bars.ts';

/** Estimators that stand beside each other, each over thirty sessions and a year; the first over a quarter, too. */
const SHOWN_ESTIMATORS = ['yang-zhang', 'close-to-close', 'parkinson', 'garman-klass-overnight'] as const;
const SHOWN_WINDOWS = [30, 252];
const QUARTER = 63;

/** The bars without those of some sessions; each keeps the close before its own. */
export function without({ sessions, bars, shares }: SessionBars, left: ReadonlySet<string | undefined>): SessionBars {
  if (left.size === 0) return { sessions, bars, shares };
  const stays = sessions.map((s) => !left.has(s));
  const column = (values: Float64Array) => values.filter((_, i) => stays[i]);
  const { open, high, low, close, previousClose } = bars;
  return {
    sessions: sessions.filter((_, i) => stays[i]),
    bars: {
      open: column(open),
      high: column(high),
      low: column(low),
      close: column(close),
      previousClose: column(previousClose),
    },
    shares: column(shares),
  };
}

/** Values of sessions by their dates. */
export function byDate({ sessions }: SessionBars, values: Float64Array): Map<string, number> {
  return new Map(sessions.map((s, i) => [s, values[i]]));
}

/** Of a session that was left out, or has not ended, the estimate of the one before; NaN of one without a bar. */
export function lastKnownFor(
  date: string,
  index: number,
  o: { dates: string[]; realizedAt: Map<string, number>; left: ReadonlySet<string | undefined>; today: string },
): number {
  if (!o.left.has(date) && date !== o.today) return NaN;
  for (let i = index - 1; i >= 0; i--) {
    const known = o.realizedAt.get(o.dates[i]);
    if (known !== undefined) return known;
    if (!o.left.has(o.dates[i])) return NaN;
  }
  return NaN;
}

/** Estimator of volatility over a given length: the weighted one has none, its squares without a mean stand in. */
export function lengthEstimator(estimator: RealizedEstimator): Exclude<RealizedEstimator, 'ewma'> {
  return estimator === 'ewma' ? 'close-to-close-zero-mean' : estimator;
}

/** Realized over the sessions after each. */
export function laterRealized(
  { sessions, bars }: SessionBars,
  horizon: number,
  estimator: Exclude<RealizedEstimator, 'ewma'>,
): Map<string, number> {
  if (horizon < 2) {
    return new Map(sessions.map((s, i) => [s, Math.abs(closeReturn(bars, i + 1)) * Math.sqrt(SESSIONS_PER_YEAR)]));
  }
  const series = realizedSeries(bars, { estimator, window: horizon });
  return new Map(sessions.map((s, i) => [s, series[i + horizon] ?? NaN]));
}

/** What estimators say of the last sessions, the one that is asked for first. */
export function shownRealized(
  bars: DailyBars,
  asked: { estimator: RealizedEstimator; window: number },
): Level['realized'] {
  const end = bars.close.length - 1;
  const wanted: (typeof asked)[] = [
    asked,
    { estimator: SHOWN_ESTIMATORS[0], window: QUARTER },
    ...SHOWN_ESTIMATORS.flatMap((estimator) => SHOWN_WINDOWS.map((window) => ({ estimator, window }))),
    { estimator: 'ewma', window: SHOWN_WINDOWS[0] },
  ];
  const seen = new Set<string>();
  return wanted.flatMap((o) => {
    const key = `${o.estimator} ${o.window}`;
    if (seen.has(key)) return [];
    seen.add(key);
    const { volatility, standardError } = realizedVolatility(bars, end, o);
    return [{ ...o, volatility: finiteOrNull(volatility), standardError: finiteOrNull(standardError) }];
  });
}

/** Share of the squared returns of a window that came overnight. */
export function overnightShare(bars: DailyBars, window: number): number {
  const end = bars.close.length - 1;
  let [night, day] = [0, 0];
  for (let i = Math.max(0, end - window + 1); i <= end; i++) {
    night += overnightReturn(bars, i) ** 2;
    day += Math.log(bars.close[i] / bars.open[i]) ** 2;
  }
  return night / (night + day);
}
