import {
  FORECAST_MODELS,
  type ForecastComparison,
  forecaster,
  type GarchFit,
  judgeForecasts,
  SESSIONS_PER_YEAR,
} from '@umwelt/core/volatility';
import { isoInZone } from '@umwelt/market/zone';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { ForecastRecord } from '../../api/level.ts';
import { forecastHistory } from './forecast-history.ts';
import type { LevelInput } from './level-input.ts';

export type ForecastRecordInput = Pick<LevelInput, 'symbol' | 'zone' | 'asOf' | 'ended' | 'past' | 'now'> & {
  /** Sessions ahead */
  horizon: number;
};

/** Chance below which a difference is more than chance. */
const BEYOND_CHANCE = 0.05;

/** How forecasts served out of sample up to an instant, and what each expected at the end of each session: pure computation. */
export function forecastRecordOf({
  symbol,
  zone,
  asOf,
  ended,
  past,
  now,
  horizon,
}: ForecastRecordInput): ForecastRecord {
  const { sessions } = ended;
  const end = sessions.length - 1;
  const history = forecastHistory(ended, [...past, now], zone);
  const [judged] = judgeForecasts(history, { end, horizons: [horizon] });
  const records = judged.records.map(({ versusNaive, versusNaiveSquared, qlike, meanSquaredError, bias, ...r }) => ({
    ...r,
    qlike: finiteOrNull(qlike),
    meanSquaredError: finiteOrNull(meanSquaredError),
    bias: finiteOrNull(bias),
    versusNaive: versusNaive ?? null,
    versusNaiveSquared: versusNaiveSquared ?? null,
  }));
  const ranked = records.filter((r) => r.qlike !== null && r.count > 0).sort((a, b) => (a.qlike ?? 0) - (b.qlike ?? 0));
  const best = ranked[0];
  const learnt = end >= 0 ? forecaster(history, end) : undefined;
  return {
    symbol,
    asOf: isoInZone(asOf.getTime(), zone),
    horizon,
    from: judged.made.length > 0 ? sessions[judged.made[0].index] : null,
    to: judged.made.length > 0 ? sessions[judged.made[judged.made.length - 1].index] : null,
    records,
    best: best?.model ?? null,
    isBestBeyondChance: best?.versusNaive ? isBetter(best.versusNaive) : null,
    series: judged.made.map(({ index, forecasts }) => ({
      session: sessions[index],
      forecasts: Object.fromEntries(FORECAST_MODELS.map((model) => [model, finiteOrNull(forecasts[model])])),
    })),
    fits: [learnt?.garch, learnt?.gjr].flatMap((fit) => (fit ? [fitRecord(fit)] : [])),
  };
}

function isBetter({ meanDifference, probability }: ForecastComparison): boolean {
  return meanDifference < 0 && probability < BEYOND_CHANCE;
}

function fitRecord({
  model,
  persistence,
  longVariance,
  parameters,
  standardErrors,
}: GarchFit): ForecastRecord['fits'][number] {
  const names =
    model === 'gjr'
      ? (['mu', 'omega', 'alpha', 'beta', 'gamma'] as const)
      : (['mu', 'omega', 'alpha', 'beta'] as const);
  return {
    model,
    persistence,
    longVolatility: Math.sqrt(longVariance * SESSIONS_PER_YEAR),
    parameters: names.map((name) => ({
      name,
      value: parameters[name],
      standardError: finiteOrNull(standardErrors[name]),
    })),
  };
}
