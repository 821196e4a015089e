/** A civil date as year, month (1 to 12) and day. */
export interface CivilDate {
  year: number;
  month: number;
  day: number;
}

const FRIDAY = 5;

/** Whether a date is the third Friday of its month, the standard monthly expiry. */
export function isMonthlyExpiry(date: CivilDate): boolean {
  const weekday = new Date(Date.UTC(date.year, date.month - 1, date.day)).getUTCDay();
  return weekday === FRIDAY && date.day >= 15 && date.day <= 21;
}

/** Third Friday of a month. @param month 1 to 12 */
export function monthlyExpiry(year: number, month: number): CivilDate {
  const first = new Date(Date.UTC(year, month - 1, 1)).getUTCDay();
  return { year, month, day: 1 + ((FRIDAY - first + 7) % 7) + 14 };
}
