import { Temporal } from 'temporal-polyfill';

/** Time zone of the Veldmar Exchange: UTC+1 the whole year. */
export const VELDMAR_ZONE = '+01:00';
/** End of the trading session, where a date without a time means an instant. */
export const SESSION_CLOSE = '17:30';

const OFFSET = /^[+-](?:0\d|1[0-4]):[0-5]\d$/;
const IANA_NAME = /^[A-Za-z][A-Za-z0-9_+-]*(?:\/[A-Za-z0-9_+-]+)*$/;

/** Whether a text names a time zone: an IANA name or a fixed offset such as +01:00, and nothing beside it. */
export function isZone(text: string): boolean {
  if (OFFSET.test(text)) return true;
  if (!IANA_NAME.test(text)) return false;
  try {
    Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(text);
    return true;
  } catch {
    return false;
  }
}

/** Instants that are taken in: beyond them a date is a mistake, and far beyond them the database has none. */
const [FIRST_YEAR, LAST_YEAR] = [1900, 2200];
/** The rule in words, for messages. */
export const INSTANT_RANGE = `${FIRST_YEAR} to ${LAST_YEAR}`;
const EARLIEST = Date.UTC(FIRST_YEAR, 0, 1);
const LATEST = Date.UTC(LAST_YEAR + 1, 0, 1);

/** Whether an instant (milliseconds since 1970 UTC) lies within the years that are taken in. */
export function isInRange(instant: number): boolean {
  return instant >= EARLIEST && instant < LATEST;
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

const INSTANT = /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d{1,9})?)?)\s*(Z|[+-]\d{2}:\d{2})?$/;

/**
 * Instant (milliseconds since 1970 UTC) of an ISO 8601 text; without an offset it is a time in the zone.
 * @returns undefined for any other text and for dates that do not exist
 */
export function instantOf(text: string, zone: string): number | undefined {
  const match = INSTANT.exec(text.trim());
  if (!match) return undefined;
  const [, date, time, offset] = match as unknown as [string, string, string, string | undefined];
  try {
    const civil = Temporal.PlainDateTime.from(`${date}T${time}`, { overflow: 'reject' });
    return civil.toZonedDateTime(offset === undefined ? zone : offset === 'Z' ? 'UTC' : offset).epochMilliseconds;
  } catch {
    return undefined;
  }
}

/** Whether a text is an existing date YYYY-MM-DD within the years that are taken in. */
export function isCivilDate(text: string): boolean {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false;
  try {
    const { year } = Temporal.PlainDate.from(text, { overflow: 'reject' });
    return year >= FIRST_YEAR && year <= LAST_YEAR;
  } catch {
    return false;
  }
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
