import { SESSIONS_PER_YEAR } from '@umwelt/core/volatility';

/** Sessions that a number of calendar days holds. */
export function sessionsOf(days: number): number {
  return Math.round((days * SESSIONS_PER_YEAR) / 365);
}

/** Calendar days that a number of sessions takes. */
export function daysOf(sessions: number): number {
  return (sessions * 365) / SESSIONS_PER_YEAR;
}
