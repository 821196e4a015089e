import { dateText, dayNumber, instantAt, OPEN_MINUTE } from './civil-day.ts';
import type { Listed } from './listing.ts';
import { nextSession, sessionOnOrBefore } from './sessions.ts';

export interface Dividend {
  /** First day without it, YYYY-MM-DD; the price falls at its open */
  exDate: string;
  exDay: number;
  /** Open of the ex-date */
  instant: number;
  amount: number;
}

const YEARS = [2028, 2029, 2030, 2031, 2032, 2033];
const known = new Map<string, Dividend[]>();

/** Announced cash dividends of an underlying from 2028 to 2033, by time. */
export function dividendsOf(listed: Listed): Dividend[] {
  const stored = known.get(listed.symbol);
  if (stored) return stored;
  const dividends = YEARS.flatMap((year) =>
    listed.character.dividends.map(({ month, day, amount }) => {
      const exDay = nextSession(sessionOnOrBefore(dayNumber(year, month, day)) - 1);
      return { exDate: dateText(exDay), exDay, instant: instantAt(exDay, OPEN_MINUTE), amount };
    }),
  ).sort((a, b) => a.instant - b.instant);
  known.set(listed.symbol, dividends);
  return dividends;
}

/** Those that the market prices: the announced ones, and one that nobody has announced. */
export function pricedDividendsOf(listed: Listed): Dividend[] {
  const { unannounced } = listed.character;
  if (!unannounced) return dividendsOf(listed);
  const { year, month, day, amount } = unannounced;
  const exDay = nextSession(sessionOnOrBefore(dayNumber(year, month, day)) - 1);
  const special = { exDate: dateText(exDay), exDay, instant: instantAt(exDay, OPEN_MINUTE), amount };
  return [...dividendsOf(listed), special].sort((a, b) => a.instant - b.instant);
}
