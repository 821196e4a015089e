const MINUTES_PER_YEAR = 365 * 24 * 60;
const MILLISECONDS_PER_MINUTE = 60_000;

/**
 * Year fraction ACT/365 by minutes between two instants, negative when `to` comes first.
 * @param from, to milliseconds since 1970-01-01T00:00Z
 * @example calendarYears(Date.UTC(2031, 2, 14), Date.UTC(2031, 2, 21)) // 7 / 365
 */
export function calendarYears(from: number, to: number): number {
  return (to - from) / MILLISECONDS_PER_MINUTE / MINUTES_PER_YEAR;
}
