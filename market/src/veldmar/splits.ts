import { dateText, dayNumber } from './civil-day.ts';
import { nextSession } from './sessions.ts';

/** From its session on, one share of before is so many. */
export interface Split {
  symbol: string;
  /** YYYY-MM-DD */
  session: string;
  day: number;
  ratio: number;
}

const fjora = nextSession(dayNumber(2030, 9, 15));

/** Splits within the two years. Chains from before them are not kept: what is derived of those days is in shares of today. */
export const SPLITS: readonly Split[] = [{ symbol: 'FJORA', session: dateText(fjora), day: fjora, ratio: 3 }];

/** Shares of today that one share of a day is. */
export function sharesSince(symbol: string, day: number): number {
  return SPLITS.reduce((shares, s) => (s.symbol === symbol && day < s.day ? shares * s.ratio : shares), 1);
}
