import { requireRange } from '../pricing/index.ts';

/** One day's knowledge about variance. */
export interface VarianceStep {
  /** Variance of a day's return as estimated the day before, >= 0 */
  variance: number;
  /** Return of the day, decimal */
  dailyReturn: number;
}

/**
 * Variance of the next day's return, exponentially weighted.
 * @param lambda weight of the past, 0 to 1
 * @throws RangeError outside the ranges, or for a number that is not finite
 * @see J.P. Morgan/Reuters (1996). RiskMetrics - Technical Document, 4th ed.
 * @example ewmaVarianceStep({ variance: 0.01 ** 2, dailyReturn: 0.02 }, 0.9) // 0.00013, a volatility of 1.14 % a day
 */
export function ewmaVarianceStep(o: VarianceStep, lambda: number): number {
  requireRange('lambda', lambda, { minimum: 0 });
  requireRange('1 - lambda', 1 - lambda, { minimum: 0 });
  return garchVarianceStep(o, { omega: 0, alpha: 1 - lambda, beta: lambda });
}

/** Parameters of GARCH(1,1): constant, weight of the last squared return, weight of the last variance; each >= 0. */
export interface GarchParameters {
  omega: number;
  alpha: number;
  beta: number;
}

/**
 * Variance of the next day's return under GARCH(1,1): omega + alpha return^2 + beta variance.
 * @throws RangeError outside the ranges, or for a number that is not finite
 * @see Bollerslev, T. (1986). Generalized autoregressive conditional heteroskedasticity. Journal of Econometrics 31(3),
 *   307-327.
 */
export function garchVarianceStep({ variance, dailyReturn }: VarianceStep, p: GarchParameters): number {
  requireRange('variance', variance, { minimum: 0 });
  requireRange('dailyReturn', dailyReturn);
  for (const name of ['omega', 'alpha', 'beta'] as const) requireRange(name, p[name], { minimum: 0 });
  return p.omega + p.alpha * dailyReturn * dailyReturn + p.beta * variance;
}
