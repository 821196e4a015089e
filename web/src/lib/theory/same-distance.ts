import { logMoneynessAtDelta, smileVolatility } from '@umwelt/core/surface';
import type { ExpiryPicture } from '../api/picture.ts';
import type { Side } from '../api/quantity.ts';
import { expirySmile } from './expiry-smile.ts';
import type { ListedOption } from './listed-contract.ts';
import type { ListedValue } from './listed-values.ts';
import type { VolatilityInForce } from './volatility-in-force.ts';

/** How the same distance both ways is counted. */
export const DISTANCES = ['percent', 'strikes', 'delta'] as const;
export type DistanceCount = (typeof DISTANCES)[number];
export const DISTANCE_WORDS: Readonly<Record<DistanceCount, string>> = {
  percent: '% away',
  strikes: 'strikes away',
  delta: 'delta',
};

/** A put or a call at a distance from the forward, on the fitted smile. */
export interface DistantOption extends ListedOption {
  volatility: number;
  /** Per unit of underlying; undefined until it is valued */
  price?: number;
}

/** A put and a call the same distance away. */
export interface SameDistanceRow {
  /** In percent of the forward, strikes, or hundredths of delta */
  distance: number;
  put: DistantOption | undefined;
  call: DistantOption | undefined;
}

const PERCENTS = [1, 2, 3, 4, 5, 7.5, 10, 12.5, 15, 20, 25, 30];
const DELTAS = [45, 40, 35, 30, 25, 20, 15, 10, 5];
const MOST_STRIKES = 12;

/** Theory that the fitted smile gives, whatever source is in force elsewhere. */
export const ON_SMILE: VolatilityInForce = { source: 'smile', level: null };

/** The row of the table that is told in words, none where either side lies beyond the quotes. */
export function toldDistance(expiry: ExpiryPicture): SameDistanceRow[] {
  const distance = expiry.days < 20 ? 2 : 5;
  return sameDistance(expiry, 'percent').filter((r) => r.distance === distance && r.put && r.call);
}

/** Puts and calls of one expiry the same distance away, nearest first, none without a smile's shape; undefined beyond the quotes that were fitted. */
export function sameDistance(expiry: ExpiryPicture, by: DistanceCount): SameDistanceRow[] {
  const smile = expirySmile(expiry);
  // A level has no sides to compare.
  if (!smile || !expiry.smile || expiry.smile.model === 'flat') return [];
  const [low, high] = expiry.smile.range;
  // The ends are strikes: a rounding must not cut them off.
  const slack = 1e-9;
  const at = (side: Side, k: number): DistantOption | undefined => {
    if (!(k >= low - slack && k <= high + slack)) return undefined;
    const strike = expiry.forward * Math.exp(k);
    const volatility = smileVolatility(smile, k);
    return { side, strike, volatility };
  };
  const rows = distances(expiry, by).map(({ distance, put, call }) => ({
    distance,
    put: at('put', put),
    call: at('call', call),
  }));
  return rows.filter((r) => r.put !== undefined || r.call !== undefined);
}

/** Options of rows, whose values are asked for together. */
export function distantOptions(rows: readonly SameDistanceRow[]): ListedOption[] {
  return rows
    .flatMap((r) => [r.put, r.call])
    .filter((o) => o !== undefined)
    .map(({ side, strike }) => ({ side, strike }));
}

/** The rows with values, which stand in the order of {@link distantOptions}. */
export function withValues(
  rows: readonly SameDistanceRow[],
  values: readonly (ListedValue | undefined)[],
): SameDistanceRow[] {
  let next = 0;
  const valued = (o: DistantOption | undefined) => o && { ...o, price: values[next++]?.price };
  return rows.map((row) => ({ ...row, put: valued(row.put), call: valued(row.call) }));
}

/** Distances with the log-moneyness of both sides. */
function distances(expiry: ExpiryPicture, by: DistanceCount): { distance: number; put: number; call: number }[] {
  switch (by) {
    case 'percent':
      return PERCENTS.map((distance) => ({
        distance,
        put: Math.log1p(-distance / 100),
        call: Math.log1p(distance / 100),
      }));
    case 'strikes': {
      const { strikes, forward } = expiry;
      const above = strikes.findIndex((k) => k >= forward);
      return Array.from({ length: MOST_STRIKES }, (_, n) => ({
        distance: n + 1,
        put: Math.log((strikes[above - 1 - n] ?? NaN) / forward),
        call: above < 0 ? NaN : Math.log((strikes[above + n] ?? NaN) / forward),
      }));
    }
    case 'delta': {
      const smile = expirySmile(expiry);
      if (!smile) return [];
      return DELTAS.map((distance) => ({
        distance,
        put: logMoneynessAtDelta(smile, 'put', distance / 100),
        call: logMoneynessAtDelta(smile, 'call', distance / 100),
      }));
    }
  }
}
