import type { ForecastModel, RealizedEstimator } from '@umwelt/core/volatility';
import type { LevelChoice } from '../../api/level.ts';
import { dateText } from '../../ui/format.ts';

export const ESTIMATOR_NAMES: Record<RealizedEstimator, string> = {
  'close-to-close': 'close to close',
  'close-to-close-zero-mean': 'close to close, mean 0',
  parkinson: 'Parkinson',
  'garman-klass': 'Garman–Klass',
  'garman-klass-overnight': 'Garman–Klass with the night',
  'rogers-satchell': 'Rogers–Satchell',
  'yang-zhang': 'Yang–Zhang',
  ewma: 'exponentially weighted',
};

export const FORECAST_NAMES: Record<ForecastModel, string> = {
  naive: 'last month again',
  ewma: 'exponentially weighted',
  garch: 'GARCH(1,1)',
  gjr: 'GJR',
  har: 'HAR',
  implied: 'implied itself',
};

/** What is taken for implied volatility, in words. */
export function impliedName(
  { implied, days, delta, withoutEvents }: LevelChoice,
  expiry: string | undefined,
  asOf: string,
): string {
  switch (implied) {
    case 'index':
      return 'model-free, 30 days';
    case 'atm':
      return `at the money, ${days} days${withoutEvents === 'yes' ? ', without events' : ''}`;
    case 'put':
    case 'call':
      return `${Math.round(delta * 100)}-delta ${implied}, ${days} days`;
    case 'expiry':
      return `at the money, ${expiry ? dateText(expiry, asOf) : 'one expiry'}`;
  }
}

/** How realized volatility is estimated, in words. */
export function realizedName({ estimator, window }: LevelChoice): string {
  return estimator === 'ewma' ? 'exponentially weighted, 0.94' : `${ESTIMATOR_NAMES[estimator]}, ${window} sessions`;
}
