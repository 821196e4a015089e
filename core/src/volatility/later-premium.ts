import { median } from '../math/index.ts';

/** What implied was at a session, and what came. */
export interface PremiumReading {
  /** Volatility per year implied at the end of the session */
  implied: number;
  /** Realized over the sessions that it spoke of; NaN where they have not all come, or one is unknown */
  later: number;
  /** Share of the sessions before it with a lower implied, 0 to 1; NaN where too few were before */
  percentile: number;
}

/** Implied minus later realized, of the sessions in which implied stood in one band of its past. */
export interface PremiumBand {
  /** Percentiles of the band, 0 to 1; the last band holds 1 */
  from: number;
  to: number;
  sessions: number;
  /** The most of them whose later sessions do not overlap */
  independent: number;
  mean: number;
  median: number;
  /** The least: what a seller of volatility lost most by */
  worst: number;
  /** Share of sessions in which implied was above what came */
  positive: number;
  /** 95 % interval of the mean by whole blocks of sessions, drawn anew; undefined of fewer than two that do not overlap */
  interval?: [low: number, high: number];
}

export const PREMIUM_BANDS = [0, 0.2, 0.4, 0.6, 0.8, 1];
const DRAWS = 1000;
const LEAST_FOR_INTERVAL = 2;

/**
 * What came after each implied reading, by where it stood in its past.
 * @param readings one a session, ascending
 * @param horizon sessions that implied spoke of: the length of a block, since later volatilities that near share sessions
 * @param uniform random numbers on [0, 1), from a seeded source
 * @see Künsch, H. R. (1989). The jackknife and the bootstrap for general stationary observations. Annals of Statistics 17(3),
 *   1217-1241: moving blocks.
 */
export function premiumByBand(
  readings: readonly PremiumReading[],
  { horizon, uniform }: { horizon: number; uniform: () => number },
): PremiumBand[] {
  const premiums = readings.map((r) => r.implied - r.later);
  const bandOf = readings.map((r, i) =>
    Number.isNaN(premiums[i]) || Number.isNaN(r.percentile)
      ? -1
      : Math.min(
          PREMIUM_BANDS.length - 2,
          PREMIUM_BANDS.findLastIndex((from) => r.percentile >= from),
        ),
  );
  const intervals = blockIntervals(premiums, bandOf, { horizon, uniform });
  return PREMIUM_BANDS.slice(0, -1).map((from, band) => {
    const own = premiums.filter((_, i) => bandOf[i] === band);
    const independent = apart(bandOf, band, horizon);
    return {
      from,
      to: PREMIUM_BANDS[band + 1],
      sessions: own.length,
      independent,
      mean: own.reduce((sum, v) => sum + v / own.length, own.length > 0 ? 0 : NaN),
      median: median(own),
      worst: own.length > 0 ? Math.min(...own) : NaN,
      positive: own.length > 0 ? own.filter((v) => v > 0).length / own.length : NaN,
      interval: independent >= LEAST_FOR_INTERVAL ? intervals[band] : undefined,
    };
  });
}

/** The most sessions of a band that are a horizon apart. */
function apart(bandOf: readonly number[], band: number, horizon: number): number {
  let count = 0;
  let free = 0;
  for (let i = 0; i < bandOf.length; i++) {
    if (bandOf[i] !== band || i < free) continue;
    count++;
    free = i + horizon;
  }
  return count;
}

/** 95 % intervals of the bands' means: the whole past is put together anew from blocks of it, again and again. */
function blockIntervals(
  premiums: readonly number[],
  bandOf: readonly number[],
  { horizon, uniform }: { horizon: number; uniform: () => number },
): ([number, number] | undefined)[] {
  const bands = PREMIUM_BANDS.length - 1;
  const n = premiums.length;
  const length = Math.min(horizon, n);
  const means: number[][] = Array.from({ length: bands }, () => []);
  for (let draw = 0; draw < DRAWS; draw++) {
    const sums = new Float64Array(bands);
    const counts = new Float64Array(bands);
    for (let drawn = 0; drawn < n; drawn += length) {
      const start = Math.floor(uniform() * (n - length + 1));
      for (let i = start; i < start + length; i++) {
        if (bandOf[i] < 0) continue;
        sums[bandOf[i]] += premiums[i];
        counts[bandOf[i]]++;
      }
    }
    for (let b = 0; b < bands; b++) if (counts[b] > 0) means[b].push(sums[b] / counts[b]);
  }
  return means.map((list) => {
    if (list.length < DRAWS / 2) return undefined;
    list.sort((a, b) => a - b);
    return [list[Math.floor(0.025 * list.length)], list[Math.ceil(0.975 * list.length) - 1]];
  });
}
