import { quantile } from '../math/index.ts';
import type { DailyBars } from './daily-bars.ts';
import { type RealizedEstimator, realizedSeries } from './realized-volatility.ts';

/** How realized volatility over one length of time has spread. */
export interface ConeHorizon {
  /** Sessions of a window */
  sessions: number;
  min: number;
  p10: number;
  p25: number;
  p50: number;
  p75: number;
  p90: number;
  max: number;
  /** Windows looked at; each starts a session after the one before */
  windows: number;
  /** Windows that do not overlap */
  independent: number;
  /** What the quantiles' distances from the median were multiplied by */
  spread: number;
}

/** Fewer windows that do not overlap make no quantiles. */
export const LEAST_CONE_WINDOWS = 8;

/**
 * Realized volatility by length of window: its least and greatest as they were, its quantiles spread about the median by as much as
 * overlapping windows understate how variance differs.
 * @param bars ascending; windows that hold a gap are left out
 * @param o.horizons sessions, whole numbers from 2
 * @returns of the horizons with at least eight windows that do not overlap
 * @see Hodges, S. & Tompkins, R. (2002). Volatility cones and their sampling properties. Journal of Derivatives 10(1), 27-42.
 */
export function volatilityCone(
  bars: DailyBars,
  o: { estimator: Exclude<RealizedEstimator, 'ewma'>; horizons: readonly number[] },
): ConeHorizon[] {
  return o.horizons.flatMap((sessions) => {
    const values = realizedSeries(bars, { estimator: o.estimator, window: sessions })
      .filter((v) => !Number.isNaN(v))
      .sort();
    const independent = Math.floor((values.length + sessions - 1) / sessions);
    if (values.length === 0 || independent < LEAST_CONE_WINDOWS) return [];
    const spread = overlapSpread(sessions, values.length);
    const middle = quantile(values, 0.5);
    const spreadQuantile = (share: number) => Math.max(0, middle + spread * (quantile(values, share) - middle));
    return [
      {
        sessions,
        min: values[0],
        p10: spreadQuantile(0.1),
        p25: spreadQuantile(0.25),
        p50: middle,
        p75: spreadQuantile(0.75),
        p90: spreadQuantile(0.9),
        max: values[values.length - 1],
        windows: values.length,
        independent,
        spread,
      },
    ];
  });
}

/**
 * Root of the factor by which the variance of overlapping windows' variances falls short.
 * Symbols of Hodges & Tompkins (2002): h sessions of a window, n windows.
 */
export function overlapSpread(h: number, n: number): number {
  return 1 / Math.sqrt(1 - h / n + (h * h - 1) / (3 * n * n));
}
