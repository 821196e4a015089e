import { instantOf } from '@umwelt/market/zone';
import type { Picture } from '../api/picture.ts';

/** Instant at which the session of a date closes, milliseconds; NaN where the zone has no such time. */
export function sessionCloseOf({ zone, sessionClose }: Picture['underlying'], date: string): number {
  return instantOf(`${date}T${sessionClose}`, zone) ?? NaN;
}

/** Whether options of a date have ended by the instant of a picture. */
export function hasEnded(picture: Pick<Picture, 'underlying' | 'asOf' | 'expiries'>, date: string): boolean {
  if (picture.expiries.some((e) => e.date === date)) return false;
  return sessionCloseOf(picture.underlying, date) <= Date.parse(picture.asOf);
}
