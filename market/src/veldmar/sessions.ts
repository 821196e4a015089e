import { isMonthlyExpiry } from '@umwelt/core/time';
import { civilInZone, instantInZone, VELDMAR_ZONE } from '../zone/index.ts';

const DAY = 86_400_000;

/** Last session of the demo, a Friday; its chains are first seen at 14:00. */
export const TODAY = instantInZone({ year: 2031, month: 3, day: 14, hour: 14, minute: 0, zone: VELDMAR_ZONE });

/** Session close of the civil day that an instant falls on. */
export function sessionClose(instant: number): number {
  const { year, month, day } = civilInZone(instant, VELDMAR_ZONE);
  return instantInZone({ year, month, day, hour: 17, minute: 30, zone: VELDMAR_ZONE });
}

/** Closes of the last `count - 1` weekdays before today, then today's instant; ascending. */
export function sessionInstants(count: number): number[] {
  const instants = [TODAY];
  for (let day = TODAY - DAY; instants.length < count; day -= DAY) {
    if (civilInZone(day, VELDMAR_ZONE).weekday <= 5) instants.push(sessionClose(day));
  }
  return instants.reverse();
}

/**
 * Expiries listed at an instant: Fridays of the next five weeks, standard monthlies to half a year, quarterlies to
 * fifteen months; all at the session close.
 */
export function listedExpiries(instant: number): number[] {
  const expiries: number[] = [];
  const { weekday } = civilInZone(instant, VELDMAR_ZONE);
  for (let day = instant + ((5 - weekday + 7) % 7) * DAY; day < instant + 456 * DAY; day += 7 * DAY) {
    const date = civilInZone(day, VELDMAR_ZONE);
    const close = sessionClose(day);
    if (close <= instant) continue;
    const isMonthly = isMonthlyExpiry(date);
    const isNear = day < instant + 36 * DAY;
    const isWithinHalfYear = day < instant + 190 * DAY;
    if (isNear || (isMonthly && (isWithinHalfYear || date.month % 3 === 0))) expiries.push(close);
  }
  return expiries;
}
