import { CLOSE_MINUTE, OPEN_MINUTE, civilOf, dayNumber, instantAt, weekdayOf } from './civil-day.ts';

/** Days on which the exchange is closed besides weekends, by name. */
export function holidaysOf(year: number): { day: number; name: string }[] {
  return [
    { day: dayNumber(year, 1, 1), name: 'New year' },
    { day: nthWeekday(year, 4, 1, 1), name: 'Thaw Monday' },
    { day: dayNumber(year, 5, 17), name: 'Founding day' },
    { day: dayNumber(year, 6, 21), name: 'Midsummer' },
    { day: nthWeekday(year, 9, 1, 1), name: 'Harbor Monday' },
    { day: dayNumber(year, 11, 11), name: 'Lantern day' },
    { day: dayNumber(year, 12, 24), name: 'Long night' },
    { day: dayNumber(year, 12, 25), name: 'Long night' },
    { day: dayNumber(year, 12, 31), name: 'Year end' },
  ];
}

function nthWeekday(year: number, month: number, weekday: number, n: number): number {
  const first = dayNumber(year, month, 1);
  return first + ((weekday - weekdayOf(first) + 7) % 7) + 7 * (n - 1);
}

const holidays = new Map<number, Set<number>>();

/** Whether the exchange trades on a day. */
export function isSession(day: number): boolean {
  if (weekdayOf(day) > 5) return false;
  const { year } = civilOf(day);
  let known = holidays.get(year);
  if (!known) holidays.set(year, (known = new Set(holidaysOf(year).map((h) => h.day))));
  return !known.has(day);
}

/** The day itself when it is a session, else the last one before. */
export function sessionOnOrBefore(day: number): number {
  let d = day;
  while (!isSession(d)) d--;
  return d;
}

/** First session after a day. */
export function nextSession(day: number): number {
  let d = day + 1;
  while (!isSession(d)) d++;
  return d;
}

/** The last `count` sessions up to and including a day, ascending. */
export function sessionsUpTo(day: number, count: number): number[] {
  const days: number[] = [];
  for (let d = day; days.length < count; d--) if (isSession(d)) days.push(d);
  return days.reverse();
}

/** The demo's today, Friday 14 March 2031, first seen at 14:00. */
export const TODAY_DAY = dayNumber(2031, 3, 14);
export const TODAY_MINUTE = 14 * 60;
export const TODAY = instantAt(TODAY_DAY, TODAY_MINUTE);

export function sessionOpen(day: number): number {
  return instantAt(day, OPEN_MINUTE);
}

/** When a session closes. */
export function sessionClose(day: number): number {
  return instantAt(day, CLOSE_MINUTE);
}

/** Instant of a session's close; today, which is not over, is seen at its own instant. */
export function sessionInstant(day: number): number {
  return day === TODAY_DAY ? TODAY : instantAt(day, CLOSE_MINUTE);
}
