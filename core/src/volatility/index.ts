export { type DailyBar, type DailyBars, type OvernightChange, dailyBars } from './daily-bars.ts';
export {
  type Realized,
  type RealizedEstimator,
  closeReturn,
  EWMA_LAMBDA,
  garmanKlassOvernight,
  needsPreviousClose,
  overnightReturn,
  REALIZED_ESTIMATORS,
  realizedSeries,
  realizedVolatility,
  yangZhangParts,
} from './realized-volatility.ts';
export { type JumpShare, jumpShare } from './bipower.ts';
export { type GarchFit, type GarchModel, type GarchValues, fitGarch, LEAST_GARCH_RETURNS } from './fit-garch.ts';
export { garchForecast, nextGarchVariance } from './garch-forecast.ts';
export { type HarFit, fitHar, harForecast } from './fit-har.ts';
export { qlike } from './forecast-loss.ts';
export { type ForecastComparison, dieboldMariano } from './diebold-mariano.ts';
export {
  type Forecaster,
  type ForecastHistory,
  type ForecastModel,
  FORECAST_MODELS,
  forecaster,
  NAIVE_SESSIONS,
  REFIT_SESSIONS,
} from './forecasts.ts';
export {
  type ForecastJudgement,
  type ForecastRecord,
  type MadeForecast,
  judgeForecasts,
  LEAST_INDEPENDENT,
} from './judge-forecasts.ts';
export { type ConeHorizon, LEAST_CONE_WINDOWS, overlapSpread, volatilityCone } from './volatility-cone.ts';
export { type PremiumBand, type PremiumReading, PREMIUM_BANDS, premiumByBand } from './later-premium.ts';
export { SESSIONS_PER_YEAR } from './sessions-per-year.ts';
export { type Standing, standing } from './standing.ts';
export { ewmaVarianceStep, garchVarianceStep, type GarchParameters, type VarianceStep } from './variance-step.ts';
