import { logMoneynessAtDelta, smileVolatility } from '@umwelt/core/surface';
import type { AsOfContext } from '../schema/as-of-context.ts';
import type { ExpiryPicture, Side } from '../schema/picture.ts';
import { theoryPrice } from './chain-rows.ts';
import { marketEarlyExercise } from './early-exercise.ts';
import { expirySmile } from './expiry-smile.ts';

/** A put or a call at a distance from the forward, on the fitted smile. */
export interface DistantOption {
  side: Side;
  strike: number;
  volatility: number;
  /** Per unit of underlying */
  price: number;
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

/** Puts and calls of one expiry the same distance away, nearest first; undefined beyond the quotes that were fitted. */
export function sameDistance(expiry: ExpiryPicture, by: AsOfContext['by']): SameDistanceRow[] {
  const smile = expirySmile(expiry);
  if (!smile || !expiry.smile) return [];
  const [low, high] = expiry.smile.range;
  // The ends are strikes: a rounding must not cut them off.
  const slack = 1e-9;
  const at = (side: Side, k: number): DistantOption | undefined => {
    if (!(k >= low - slack && k <= high + slack)) return undefined;
    const strike = expiry.forward * Math.exp(k);
    const volatility = smileVolatility(smile, k);
    return {
      side,
      strike,
      volatility,
      price: theoryPrice(expiry, { side, strike, volatility }, marketEarlyExercise(expiry)),
    };
  };
  const rows = distances(expiry, by).map(({ distance, put, call }) => ({
    distance,
    put: at('put', put),
    call: at('call', call),
  }));
  return rows.filter((r) => r.put !== undefined || r.call !== undefined);
}

/** Distances with the log-moneyness of both sides. */
function distances(expiry: ExpiryPicture, by: AsOfContext['by']): { distance: number; put: number; call: number }[] {
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
