import { CLOSE_MINUTE, civilOf, dayNumber, dayOf, instantAt, weekdayOf } from './civil-day.ts';
import type { ExpiryCycle } from './listing.ts';
import { isSession, sessionOnOrBefore } from './sessions.ts';
import { monthlyExpiry } from '@umwelt/core/time';

const FRIDAY = 5;
const DAYS_PER_MONTH = 30.44;

/** Day of a month's standard expiry: the third Friday, or the session before when that is a holiday. */
export function standardExpiry(year: number, month: number): number {
  const friday = monthlyExpiry(year, month);
  return sessionOnOrBefore(dayNumber(friday.year, friday.month, friday.day));
}

/** Expiry instants listed at an instant, ascending; all expire at the session's close. */
export function listedExpiries(instant: number, cycle: ExpiryCycle): number[] {
  const today = dayOf(instant);
  const days = new Set<number>();
  for (let day = today, count = 0; count < cycle.dailies; day++) {
    if (!isSession(day)) continue;
    days.add(day);
    count++;
  }
  for (let week = 0; week < cycle.weeklies; week++) {
    days.add(sessionOnOrBefore(today + ((FRIDAY - weekdayOf(today) + 7) % 7) + 7 * week));
  }
  const { year, month } = civilOf(today);
  for (let ahead = 0; ahead <= Math.max(cycle.monthlies, cycle.quarterlies); ahead++) {
    const index = month - 1 + ahead;
    const [y, m] = [year + Math.floor(index / 12), (index % 12) + 1];
    const day = standardExpiry(y, m);
    const months = (day - today) / DAYS_PER_MONTH;
    if (months <= cycle.monthlies || (m % 3 === 0 && months <= cycle.quarterlies)) days.add(day);
  }
  return [...days]
    .map((day) => instantAt(day, CLOSE_MINUTE))
    .filter((expiry) => expiry > instant)
    .sort((a, b) => a - b);
}

/** Delivery days of a future after a day: the standard expiries of its delivery months, ascending. */
export function deliveriesAfter(day: number, months: readonly number[], count: number): number[] {
  const days: number[] = [];
  const { year, month } = civilOf(day);
  for (let index = month - 1; days.length < count; index++) {
    const [y, m] = [year + Math.floor(index / 12), (index % 12) + 1];
    if (!months.includes(m)) continue;
    const delivery = standardExpiry(y, m);
    if (delivery >= day) days.push(delivery);
  }
  return days;
}
