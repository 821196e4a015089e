import type { GarchFit } from './fit-garch.ts';
import { SESSIONS_PER_YEAR } from './sessions-per-year.ts';

/**
 * Variance of the return after one, by the parameters of a fit.
 * @param variance that of the return, as told the session before
 */
export function nextGarchVariance({ parameters: p }: GarchFit, variance: number, sessionReturn: number): number {
  const residual = sessionReturn - p.mu;
  const weight = p.alpha + (residual < 0 ? p.gamma : 0);
  return p.omega + weight * residual * residual + p.beta * variance;
}

/**
 * Volatility per year that a fit expects on average over the next sessions.
 * @param nextVariance variance of the next return
 * @param sessions >= 1
 * @see Hull, J. C. (2015). Options, Futures, and Other Derivatives, 9th ed., section 23.6.
 */
export function garchForecast(fit: GarchFit, nextVariance: number, sessions: number): number {
  const { persistence: p, longVariance } = fit;
  const share = (1 - p ** sessions) / (1 - p) / sessions;
  return Math.sqrt((longVariance + share * (nextVariance - longVariance)) * SESSIONS_PER_YEAR);
}
