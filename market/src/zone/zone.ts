import { Temporal } from 'temporal-polyfill';

/** Time zone of the Veldmar Exchange: UTC+1 the whole year. */
export const VELDMAR_ZONE = '+01:00';
/** End of the trading session, where a date without a time means an instant. */
export const SESSION_CLOSE = '17:30';

/** Whether a text names a time zone: an IANA name or a fixed offset such as +01:00. */
export function isZone(text: string): boolean {
  try {
    Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(text);
    return true;
  } catch {
    return false;
  }
}

/**
 * Instant (milliseconds since 1970 UTC) of a civil date and time in a zone.
 * @throws RangeError when the date, time or zone does not exist
 */
export function instantInZone(o: {
  year: number;
  month: number;
  day: number;
  hour: number;
  minute: number;
  second?: number;
  zone: string;
}): number {
  const { zone, second = 0, ...fields } = o;
  return Temporal.PlainDateTime.from({ ...fields, second }, { overflow: 'reject' }).toZonedDateTime(zone)
    .epochMilliseconds;
}

/** Civil fields of an instant in a zone. */
export function civilInZone(instant: number, zone: string) {
  const at = Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone);
  return { year: at.year, month: at.month, day: at.day, hour: at.hour, minute: at.minute, weekday: at.dayOfWeek };
}

/** ISO 8601 text of an instant with the zone's offset, to the second. */
export function isoInZone(instant: number, zone: string): string {
  const at = Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone);
  return at.toString({ timeZoneName: 'never', smallestUnit: 'second' });
}
