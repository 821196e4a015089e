import { isoInZone } from '@umwelt/market/zone';

const FIXED_OFFSET = /^([+-])(\d{2}):(\d{2})$/;

/** Civil date of an instant in a zone, YYYY-MM-DD. */
export function sessionDate(instant: Date, zone: string): string {
  const fixed = FIXED_OFFSET.exec(zone);
  // A calendar library for each of a year's measures would take longer than reading them.
  if (!fixed) return isoInZone(instant.getTime(), zone).slice(0, 10);
  const minutes = (fixed[1] === '-' ? -1 : 1) * (60 * Number(fixed[2]) + Number(fixed[3]));
  return new Date(instant.getTime() + minutes * 60_000).toISOString().slice(0, 10);
}
