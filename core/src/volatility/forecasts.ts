import { fitGarch, type GarchFit } from './fit-garch.ts';
import { fitHar, harForecast } from './fit-har.ts';
import { garchForecast, nextGarchVariance } from './garch-forecast.ts';
import { EWMA_LAMBDA } from './realized-volatility.ts';
import { SESSIONS_PER_YEAR } from './sessions-per-year.ts';

/** What expects a volatility: the last month, three models of returns, one of variances, and the options' market itself. */
export const FORECAST_MODELS = ['naive', 'ewma', 'garch', 'gjr', 'har', 'implied'] as const;
export type ForecastModel = (typeof FORECAST_MODELS)[number];

/** What forecasts rest on, by session, ascending. */
export interface ForecastHistory {
  /** Log returns from close to close, dividends and splits taken out; NaN where unknown */
  returns: Float64Array;
  /** Variance of each session with the night before it (Garman & Klass 1980): the stand-in for what nobody sees; NaN where unknown */
  variances: Float64Array;
  /** Implied volatility per year at the end of a session for a number of sessions ahead; NaN where unknown */
  implied: (index: number, sessions: number) => number;
}

/** Sessions whose mean variance the naive forecast takes on. */
export const NAIVE_SESSIONS = 21;
/** Sessions after which parameters are fitted anew. */
export const REFIT_SESSIONS = 21;

/** What has been learnt from the sessions up to one, and follows those after it. */
export interface Forecaster {
  /** Fits it rests on; undefined where the history was too short */
  garch: GarchFit | undefined;
  gjr: GarchFit | undefined;
  /**
   * Volatility per year expected on average over the next sessions, made at the end of a session; NaN where it cannot be told.
   * @param index not before the last session that was learnt from, and not before that of the last call
   */
  forecast(index: number, sessions: number): Record<ForecastModel, number>;
}

/** Learns from the sessions up to one. @param learnt index of the last */
export function forecaster(history: ForecastHistory, learnt: number): Forecaster {
  const { returns, variances, implied } = history;
  const known = returns.slice(0, learnt + 1).filter((r) => !Number.isNaN(r));
  const garch = fitGarch(known, 'garch');
  const gjr = fitGarch(known, 'gjr');
  const followed = { garch: follow(garch, returns, learnt), gjr: follow(gjr, returns, learnt) };
  const hars = new Map<number, ReturnType<typeof fitHar>>();
  const harOf = (sessions: number) => {
    if (!hars.has(sessions)) hars.set(sessions, fitHar(variances, { end: learnt, horizon: sessions }));
    return hars.get(sessions);
  };
  const garchAt = (model: 'garch' | 'gjr', index: number, sessions: number) => {
    const fit = model === 'garch' ? garch : gjr;
    return fit ? garchForecast(fit, followed[model](index), sessions) : NaN;
  };
  return {
    garch,
    gjr,
    forecast(index, sessions) {
      const har = harOf(sessions);
      return {
        naive: naiveForecast(variances, index),
        ewma: ewmaForecast(returns, index),
        garch: garchAt('garch', index, sessions),
        gjr: garchAt('gjr', index, sessions),
        har: har ? harForecast(har, variances, index) : NaN,
        implied: implied(index, sessions),
      };
    },
  };
}

/** Variance of the next return at the end of sessions, each later than the one asked for before. */
function follow(fit: GarchFit | undefined, returns: Float64Array, learnt: number): (index: number) => number {
  let at = learnt;
  let variance = fit?.nextVariance ?? NaN;
  return (index) => {
    if (!fit) return NaN;
    // A session that is not known tells nothing.
    for (; at < index; at++)
      if (!Number.isNaN(returns[at + 1])) variance = nextGarchVariance(fit, variance, returns[at + 1]);
    return variance;
  };
}

function naiveForecast(variances: Float64Array, index: number): number {
  if (index < NAIVE_SESSIONS - 1) return NaN;
  let sum = 0;
  for (let i = index - NAIVE_SESSIONS + 1; i <= index; i++) sum += variances[i];
  return Math.sqrt((sum / NAIVE_SESSIONS) * SESSIONS_PER_YEAR);
}

/** Exponentially weighted squared returns up to a session, begun with the first that is known. */
function ewmaForecast(returns: Float64Array, index: number): number {
  let variance = NaN;
  for (let i = 0; i <= index; i++) {
    const square = returns[i] ** 2;
    if (Number.isNaN(square)) continue;
    variance = Number.isNaN(variance) ? square : EWMA_LAMBDA * variance + (1 - EWMA_LAMBDA) * square;
  }
  return Math.sqrt(variance * SESSIONS_PER_YEAR);
}
