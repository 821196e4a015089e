import { type HistoryPaths, historyPaths, learnHistory } from '@umwelt/core/probability';
import { type ForecastModel, forecaster, SESSIONS_PER_YEAR } from '@umwelt/core/volatility';
import { randomSource } from '@umwelt/market/random';
import { forecastHistory } from './forecast-history.ts';
import type { SessionBars } from './session-bars.ts';

/** Drawn paths: a share of a half is known to half a point. */
const PATHS = 10_000;
const SEED = 20_310_317;
/** What expects volatility, the first that could be fitted. */
const MODELS: readonly ForecastModel[] = ['garch', 'ewma'];

/** What odds of an expiry are drawn and expected from. */
export interface OddsBasisInput {
  /** Sessions that have ended by the instant */
  ended: SessionBars;
  zone: string;
  /** To the expiry */
  days: number;
  /** Growth of the expected price until then, as a logarithm */
  growth: number;
}

export interface OddsBasis {
  /** Until the expiry, parts of one as well */
  sessions: number;
  forecast: { volatility: number; model: ForecastModel } | null;
  history: HistoryPaths | null;
}

/** Forecast and paths until an expiry, from the sessions that have ended: the same for the same bars. */
export function oddsBasis({ ended, zone, days, growth }: OddsBasisInput): OddsBasis {
  const sessions = (days * SESSIONS_PER_YEAR) / 365;
  const last = ended.sessions.length - 1;
  const expected =
    last < 0
      ? undefined
      : forecaster(forecastHistory(ended, [], zone), last).forecast(last, Math.max(1, Math.round(sessions)));
  const model = MODELS.find((name) => expected && Number.isFinite(expected[name]));
  const past = learnHistory(ended.bars);
  const { uniform } = randomSource(SEED);
  const drawn = past && historyPaths({ past, sessions, growth, paths: PATHS, uniform });
  return {
    sessions,
    forecast: expected && model ? { volatility: expected[model], model } : null,
    history: drawn ?? null,
  };
}
