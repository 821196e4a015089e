/** What was typed, as a number, or what is wrong with it. */
export type ReadNumber = { ok: true; value: number } | { ok: false; wrong: string };

const NO_NUMBER = 'a number is needed';

/**
 * Number as people type it: spaces between thousands, a comma or point for decimals, a percent sign. A comma before just three
 * digits is asked about: half of the world reads thousands there.
 */
export function readNumber(text: string): ReadNumber {
  const plain = text
    .trim()
    .replace(/[\s\u202f\u00a0%]/g, '')
    .replace('−', '-');
  if (/^[+-]?[1-9]\d{0,2},\d{3}$/.test(plain)) {
    const [thousands, rest] = plain.split(',');
    return { ok: false, wrong: `is ${plain} meant as ${thousands} ${rest} or as ${thousands}.${rest}? Write it so` };
  }
  const decimal = plain.includes('.') ? plain.replaceAll(',', '') : plain.replace(',', '.');
  const isNumber = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(decimal);
  return isNumber ? { ok: true, value: Number(decimal) } : { ok: false, wrong: NO_NUMBER };
}

/** What a number must be beside one. */
export interface NumberRule {
  /** Least and most */
  within?: readonly [least: number, most: number];
  isWhole?: boolean;
  isNonzero?: boolean;
  /** Whether a percent sign may be written */
  isPercent?: boolean;
}

/** Number as people type it, and as it may be. */
export function readWithin(text: string, { within, isWhole, isNonzero, isPercent }: NumberRule): ReadNumber {
  if (!isPercent && text.includes('%')) return { ok: false, wrong: 'not in percent: write the number alone' };
  const read = readNumber(text);
  if (!read.ok) return read;
  const [least, most] = within ?? [-Infinity, Infinity];
  if (isWhole && !Number.isInteger(read.value)) return { ok: false, wrong: 'a whole number is needed' };
  if (isNonzero && read.value === 0) return { ok: false, wrong: 'any number but 0' };
  if (read.value >= least && read.value <= most) return read;
  return { ok: false, wrong: rangeWords(least, most) };
}

/** A range in words. */
export function rangeWords(least: number, most: number): string {
  const written = (value: number) => String(value).replace('-', '−');
  if (most >= BEYOND) return least === Number.MIN_VALUE ? 'above 0' : `${written(least)} or more`;
  return `${least === Number.MIN_VALUE ? 'above 0, up to' : `from ${written(least)} to`} ${written(most)}`;
}
/** A bound that nobody means to reach is not said. */
const BEYOND = 1e9;
/** Anything above nothing. */
export const ABOVE_ZERO: readonly [number, number] = [Number.MIN_VALUE, 1e9];

const DAY = 86_400_000;
/** Days of a term's unit; a year is that of ACT/365. */
const UNITS: Readonly<Record<string, number>> = { d: 1, w: 7, m: 365 / 12, y: 365 };

/**
 * Days from an instant to what was typed: a number of days, a term such as 2w, 6m or 0.5y, or a civil date at the instant's expiry
 * time. Whole months are those of the calendar.
 */
export function readDays(text: string, from: number, expiryTime = 'T16:00:00Z'): ReadNumber {
  const typed = text.trim();
  if (/^\d{4}-\d{2}-\d{2}$/.test(typed)) {
    // Some days of a month that has fewer are taken for the next month's.
    const day = new Date(`${typed}T00:00:00Z`);
    if (Number.isNaN(day.getTime()) || !day.toISOString().startsWith(typed))
      return { ok: false, wrong: `${typed} is no date` };
    return { ok: true, value: (Date.parse(typed + expiryTime) - from) / DAY };
  }
  const [, amount, unit] = /^(.+?)\s*([dwmy])$/i.exec(typed) ?? [];
  const read = readNumber(amount ?? typed);
  if (!read.ok)
    return read.wrong === NO_NUMBER ? { ok: false, wrong: 'days, a date, or a term such as 6m or 0.5y' } : read;
  const letter = unit?.toLowerCase() ?? 'd';
  if (letter !== 'm' || read.value % 1 !== 0) return { ok: true, value: read.value * UNITS[letter] };
  return { ok: true, value: (monthsAfter(from, read.value) - from) / DAY };
}

/** The same day some months later, or that month's last where it has no such day. */
function monthsAfter(from: number, months: number): number {
  const date = new Date(from);
  const day = date.getUTCDate();
  date.setUTCDate(1);
  date.setUTCMonth(date.getUTCMonth() + months);
  const last = new Date(Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 0)).getUTCDate();
  date.setUTCDate(Math.min(day, last));
  return date.getTime();
}

/** Days to its ex-date and amount of a cash dividend. */
export interface TypedDividend {
  days: number;
  amount: number;
}
export type ReadDividends = { ok: true; dividends: TypedDividend[] } | { ok: false; wrong: string };

/** Cash dividends as typed or pasted, a row or part each: "30: 1.5, 2031-06-20: 2", or two columns of a sheet. */
export function readDividends(text: string, from: number, expiryTime?: string): ReadDividends {
  const parts = text.split(/[;\n]|,(?=\s|$)/).filter((part) => part.trim() !== '');
  const dividends: TypedDividend[] = [];
  for (const part of parts) {
    const [when, paid, more] = part.trim().split(/\s*(?::|\t)\s*|\s+/);
    const wrong = `“${part.trim()}”: days or date, then the amount, as in 30: 1.5`;
    if (paid === undefined || more !== undefined || part.includes('@')) return { ok: false, wrong };
    const [days, amount] = [readDays(when, from, expiryTime), readNumber(paid)];
    if (!days.ok) return { ok: false, wrong: `“${part.trim()}”: ${days.wrong}` };
    if (!amount.ok) return { ok: false, wrong: `“${part.trim()}”: ${amount.wrong}` };
    dividends.push({ days: days.value, amount: amount.value });
  }
  return { ok: true, dividends };
}
