import { studentTCdf } from '../math/index.ts';

/** Whether one forecast served better than another by more than chance. */
export interface ForecastComparison {
  /** Mean of the differences; below 0 the first one lost less */
  meanDifference: number;
  /** One standard deviation of it */
  standardError: number;
  statistic: number;
  /** Chance of a statistic as far from 0 if both were equally good, both sides */
  probability: number;
  count: number;
}

/**
 * Test of Diebold & Mariano with the correction for short samples.
 * @param differences loss of the one minus loss of the other, of forecasts made in consecutive sessions
 * @param horizon sessions ahead: forecasts that far ahead overlap, so differences up to horizon - 1 apart go together, all of the
 *   same weight
 * @returns undefined when there are no more than `horizon`, or the differences' long variance comes out as not positive
 * @see Diebold, F. X. & Mariano, R. S. (1995). Comparing predictive accuracy. Journal of Business & Economic Statistics 13(3),
 *   253-263.
 * @see Harvey, D., Leybourne, S. & Newbold, P. (1997). Testing the equality of prediction mean squared errors. International
 *   Journal of Forecasting 13(2), 281-291.
 */
export function dieboldMariano(differences: ArrayLike<number>, horizon: number): ForecastComparison | undefined {
  const n = differences.length;
  if (n <= horizon) return undefined;
  let mean = 0;
  for (let i = 0; i < n; i++) mean += differences[i] / n;
  let variance = 0;
  for (let lag = 0; lag < horizon; lag++) {
    let covariance = 0;
    for (let i = lag; i < n; i++) covariance += (differences[i] - mean) * (differences[i - lag] - mean);
    variance += ((lag === 0 ? 1 : 2) * covariance) / n;
  }
  const correction = (n + 1 - 2 * horizon + (horizon * (horizon - 1)) / n) / n;
  if (!(variance > 0 && correction > 0)) return undefined;
  const standardError = Math.sqrt(variance / n / correction);
  const statistic = mean / standardError;
  const probability = 2 * studentTCdf(-Math.abs(statistic), n - 1);
  return { meanDifference: mean, standardError, statistic, probability, count: n };
}
