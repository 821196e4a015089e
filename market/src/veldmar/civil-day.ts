/*
 * Days of the exchange as integers: days since 1970-01-01 in its zone, UTC+1 the whole year. Whole-number arithmetic,
 * because a market of millions of quotes cannot ask a calendar library for each.
 */

const DAY = 86_400_000;
const MINUTE = 60_000;
/** UTC+1 */
const ZONE_OFFSET = 3_600_000;

/** Minutes after midnight at which trading opens and closes. */
export const OPEN_MINUTE = 9 * 60;
export const CLOSE_MINUTE = 17 * 60 + 30;

export function dayOf(instant: number): number {
  return Math.floor((instant + ZONE_OFFSET) / DAY);
}

/** Minutes after the exchange's midnight. */
export function minuteOf(instant: number): number {
  return Math.floor((instant + ZONE_OFFSET) / MINUTE) - dayOf(instant) * 1440;
}

/** Instant of a day and minute, milliseconds since 1970 UTC. */
export function instantAt(day: number, minute: number): number {
  return day * DAY + minute * MINUTE - ZONE_OFFSET;
}

/** Day number of a civil date. @param month 1 to 12 */
export function dayNumber(year: number, month: number, day: number): number {
  return Date.UTC(year, month - 1, day) / DAY;
}

export function civilOf(day: number): { year: number; month: number; day: number } {
  const date = new Date(day * DAY);
  return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, day: date.getUTCDate() };
}

/** YYYY-MM-DD */
export function dateText(day: number): string {
  return new Date(day * DAY).toISOString().slice(0, 10);
}

/** Monday is 1, Sunday 7. */
export function weekdayOf(day: number): number {
  return ((((day + 3) % 7) + 7) % 7) + 1;
}
