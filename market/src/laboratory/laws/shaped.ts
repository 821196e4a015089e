import type { Law } from './law.ts';

/** Deviations beyond which a shaped smile is level. */
const LEVEL_BEYOND = 3;

/**
 * A smile that is a parabola in deviations, x = k / (level sqrt(T)): level - tilt x + bend x^2, level beyond three of them;
 * a lognormal law without tilt and bend.
 * @param o.level at the money, per year; the others likewise, per deviation and per its square
 */
export function shaped({ level, tilt = 0, bend = 0 }: { level: number; tilt?: number; bend?: number }): Law {
  return {
    volatility(logMoneyness, timeToExpiry) {
      const deviations = logMoneyness / (level * Math.sqrt(timeToExpiry));
      const x = Math.max(-LEVEL_BEYOND, Math.min(LEVEL_BEYOND, deviations));
      return level - tilt * x + bend * x * x;
    },
  };
}
