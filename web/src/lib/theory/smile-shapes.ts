import { smileVolatility } from '@umwelt/core/surface';
import type { QuotedSurface } from '../api/picture.ts';
import { nearestInTime } from '../market/index.ts';
import { expirySmile } from './expiry-smile.ts';

/** A smile taken off its level: points over at the money by deviations from the forward. */
export interface SmileShape {
  picture: QuotedSurface;
  expiry: QuotedSurface['expiries'][number];
  curve: { deviations: number; points: number }[];
  /** Out-of-the-money mids that the fit rests on */
  quotes: { deviations: number; points: number; side: 'call' | 'put' }[];
}

/** Deviations that are looked at on either side. */
export const SHAPE_REACH = 2.5;
const STEPS = 50;

/** Shape of the expiry of a picture that is nearest in time to a number of days; undefined without a smile. */
export function smileShape(picture: QuotedSurface, days: number): SmileShape | undefined {
  const able = picture.expiries.filter((e) => e.smile !== null && e.atm !== null && e.outlier === null);
  const expiry = nearestInTime(able, days, (e) => e.days);
  const smile = expiry && expirySmile(expiry);
  if (!expiry || !smile) return undefined;
  const atm = expiry.atm ?? NaN;
  const deviation = atm * Math.sqrt(expiry.years);
  const [low, high] = (expiry.smile?.range ?? [0, 0]).map((k) => k / deviation);
  const from = Math.max(-SHAPE_REACH, low);
  const to = Math.min(SHAPE_REACH, high);
  const curve = Array.from({ length: STEPS + 1 }, (_, i) => {
    const deviations = from + ((to - from) * i) / STEPS;
    return { deviations, points: 100 * (smileVolatility(smile, deviations * deviation) - atm) };
  });
  const quotes = expiry.strikes.flatMap((strike, i) => {
    const side = strike >= expiry.forward ? 'call' : 'put';
    const mid = expiry[side].midVolatility[i];
    const deviations = Math.log(strike / expiry.forward) / deviation;
    if (mid === null || expiry[side].verdict[i] !== null || Math.abs(deviations) > SHAPE_REACH) return [];
    return [{ deviations, points: 100 * (mid - atm), side } as const];
  });
  return { picture, expiry, curve, quotes };
}
