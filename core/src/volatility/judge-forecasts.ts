import { dieboldMariano, type ForecastComparison } from './diebold-mariano.ts';
import { meanAhead } from './fit-har.ts';
import { qlike } from './forecast-loss.ts';
import {
  FORECAST_MODELS,
  type Forecaster,
  type ForecastHistory,
  type ForecastModel,
  forecaster,
  REFIT_SESSIONS,
} from './forecasts.ts';
import { SESSIONS_PER_YEAR } from './sessions-per-year.ts';

/** How a model's forecasts served, each made with what was known then. */
export interface ForecastRecord {
  model: ForecastModel;
  /** Forecasts judged, one a session */
  count: number;
  /** Those that do not overlap */
  independent: number;
  /** Mean QLIKE of variance; NaN of none */
  qlike: number;
  /** Mean squared error of variance per year; NaN of none */
  meanSquaredError: number;
  /** Mean of forecast minus what came, both as volatility per year: above 0 it expects too much */
  bias: number;
  /** QLIKE against the naive forecast's in the same sessions; undefined of itself, or where too little is known to judge */
  versusNaive?: ForecastComparison;
  /** The same by squared errors of variance */
  versusNaiveSquared?: ForecastComparison;
}

/** What was expected at the end of a session. */
export interface MadeForecast {
  /** Of the session */
  index: number;
  /** Variance per year that came in the sessions after it; NaN where they have not all come */
  proxy: number;
  forecasts: Record<ForecastModel, number>;
}

export interface ForecastJudgement {
  /** Sessions ahead */
  horizon: number;
  records: ForecastRecord[];
  /** All forecasts, ascending in time, those that cannot be judged yet too */
  made: MadeForecast[];
}

/** First session whose forecast is judged: what is learnt from needs this many before it. */
const FIRST_LEARNT = 126;
/** Fewer forecasts that do not overlap give no verdict. */
export const LEAST_INDEPENDENT = 20;
/** Models whose forecasts cover fewer of the sessions than this share do not narrow what the others are judged on. */
const LEAST_COVER = 0.5;

/**
 * How forecasts served out of sample: parameters are fitted every 21 sessions on what was known then.
 * @param o.end index of the last session that is known: nothing after it enters
 * @param o.horizons sessions ahead, each >= 1
 */
export function judgeForecasts(
  history: ForecastHistory,
  o: { end: number; horizons: readonly number[] },
): ForecastJudgement[] {
  const known: ForecastHistory = {
    returns: history.returns.slice(0, o.end + 1),
    variances: history.variances.slice(0, o.end + 1),
    implied: history.implied,
  };
  const made = new Map<number, MadeForecast[]>(o.horizons.map((h) => [h, []]));
  let learnt: Forecaster | undefined;
  for (let index = FIRST_LEARNT - 1; index <= o.end; index++) {
    if ((index - FIRST_LEARNT + 1) % REFIT_SESSIONS === 0) learnt = forecaster(known, index);
    for (const [horizon, list] of made) {
      const proxy = meanAhead(known.variances, index, horizon) * SESSIONS_PER_YEAR;
      if (learnt) list.push({ index, proxy, forecasts: learnt.forecast(index, horizon) });
    }
  }
  return [...made].map(([horizon, list]) => ({
    horizon,
    records: recordsOf(
      list.filter((m) => m.proxy > 0),
      horizon,
    ),
    made: list,
  }));
}

function recordsOf(made: MadeForecast[], horizon: number): ForecastRecord[] {
  const isKnown = (m: MadeForecast, model: ForecastModel) => m.forecasts[model] > 0;
  const covers = (model: ForecastModel) => made.filter((m) => isKnown(m, model)).length >= LEAST_COVER * made.length;
  // Models are judged on the same sessions, those that all of them have.
  const common = FORECAST_MODELS.filter(covers);
  return FORECAST_MODELS.map((model) => {
    const judged = made.filter((m) => isKnown(m, model) && common.every((other) => isKnown(m, other)));
    const lossesOf = (loss: (proxy: number, forecast: number) => number, by: ForecastModel) =>
      judged.map((m) => loss(m.proxy, m.forecasts[by] ** 2));
    const independent = Math.floor(judged.length / horizon);
    const compared = (loss: (proxy: number, forecast: number) => number) => {
      if (model === 'naive' || independent < LEAST_INDEPENDENT) return undefined;
      const naive = lossesOf(loss, 'naive');
      return dieboldMariano(
        lossesOf(loss, model).map((own, i) => own - naive[i]),
        horizon,
      );
    };
    return {
      model,
      count: judged.length,
      independent,
      qlike: mean(lossesOf(qlike, model)),
      meanSquaredError: mean(lossesOf(squaredError, model)),
      bias: mean(judged.map((m) => m.forecasts[model] - Math.sqrt(m.proxy))),
      versusNaive: compared(qlike),
      versusNaiveSquared: compared(squaredError),
    };
  });
}

function squaredError(proxy: number, forecast: number): number {
  return (proxy - forecast) ** 2;
}

function mean(values: readonly number[]): number {
  return values.length === 0 ? NaN : values.reduce((sum, v) => sum + v, 0) / values.length;
}
