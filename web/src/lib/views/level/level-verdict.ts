import type { ForecastRecord, Level } from '../../api/level.ts';

export type LevelSide = 'high' | 'low' | 'usual';

/** How implied stands by one measure within the underlying's own past. */
export interface LevelPlace {
  side: LevelSide;
  /** Share of its past that lies below */
  percentile: number;
  /** Sessions of that past */
  count: number;
}

export interface LevelVerdict {
  /** By implied over realized; undefined without a past of it */
  byRatio: LevelPlace | undefined;
  /** By implied less the forecast that served best beside implied itself; undefined likewise */
  byForecast: (LevelPlace & { model: ForecastRecord['records'][number]['model'] }) | undefined;
}

/** Quarters of the past beyond which implied is high or low: our own choice. */
const HIGH = 0.75;
const LOW = 0.25;
/** Fewer sessions are no past. */
const LEAST_PAST = 60;

const sideOf = (percentile: number): LevelSide => (percentile >= HIGH ? 'high' : percentile <= LOW ? 'low' : 'usual');

/** Whether implied is high or low for this underlying: by each of two measures, which may disagree. */
export function levelVerdict(level: Level, record: ForecastRecord | undefined): LevelVerdict {
  const { ratioPlace } = level;
  const byRatio =
    level.ratioNow === null || !ratioPlace || ratioPlace.count < LEAST_PAST
      ? undefined
      : { side: sideOf(ratioPlace.percentile), percentile: ratioPlace.percentile, count: ratioPlace.count };
  return { byRatio, byForecast: placeByForecast(level, record) };
}

function placeByForecast(level: Level, record: ForecastRecord | undefined): LevelVerdict['byForecast'] {
  // Of implied as its own forecast there is no difference: the best of the others.
  const model = record?.records
    .filter((r) => r.model !== 'implied' && r.qlike !== null)
    .sort((a, b) => (a.qlike ?? NaN) - (b.qlike ?? NaN))
    .at(0)?.model;
  if (!record || !model || level.now === null) return undefined;
  const forecast = level.forecasts.find((f) => f.model === model)?.volatility ?? null;
  if (forecast === null) return undefined;
  const implied = new Map(level.sessions.map((s) => [s.session, s.implied]));
  const past = record.series.flatMap(({ session, forecasts }) => {
    const [then, expected] = [implied.get(session) ?? null, forecasts[model] ?? null];
    return then === null || expected === null ? [] : [then - expected];
  });
  if (past.length < LEAST_PAST) return undefined;
  const now = level.now - forecast;
  const percentile = past.filter((gap) => gap < now).length / past.length;
  return { side: sideOf(percentile), percentile, count: past.length, model };
}
