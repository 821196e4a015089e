import type { DateOrder, DecimalMark } from '../chain-format/index.ts';
import { instantInZone } from '../zone/index.ts';

/**
 * Number with the given decimal mark; the other mark, spaces and apostrophes may group digits by three.
 * @returns NaN for anything else
 */
export function parseNumber(text: string, decimal: DecimalMark): number {
  const trimmed = text.trim();
  const group = decimal === ',' ? '.' : ',';
  const mark = decimal === ',' ? ',' : '\\.';
  const plain = new RegExp(
    `^[+-]?(\\d+|\\d{1,3}([${group === '.' ? '\\.' : ','}\\s'’]\\d{3})+)?(${mark}\\d*)?([eE][+-]?\\d+)?$`,
  );
  if (!plain.test(trimmed) || !/\d/.test(trimmed)) return NaN;
  return Number(
    trimmed
      .replace(/[\s'’]/g, '')
      .replaceAll(group, '')
      .replace(decimal, '.'),
  );
}

/** Side from c, call, calls, p, put, puts in any case. */
export function parseSide(text: string): 'call' | 'put' | undefined {
  const plain = text.trim().toLowerCase();
  if (plain === 'c' || plain === 'call' || plain === 'calls') return 'call';
  if (plain === 'p' || plain === 'put' || plain === 'puts') return 'put';
  return undefined;
}

const ISO = /^(\d{4})-?(\d{2})-?(\d{2})(?:[T ](\d{2}):?(\d{2})(?::?(\d{2})(?:\.\d+)?)?\s*(Z|[+-]\d{2}:?\d{2})?)?$/;
const CIVIL = /^(\d{1,2})[./-](\d{1,2})[./-](\d{4}|\d{2})(?:[T ]+(\d{1,2}):(\d{2})(?::(\d{2}))?)?$/;

export interface InstantOptions {
  order: DateOrder;
  /** Zone of texts without an offset */
  zone: string;
  /** Time of dates without one, HH:MM */
  defaultTime: string;
}

/** Instant in milliseconds since 1970 UTC, or undefined when the text is no existing date. */
export function parseInstant(text: string, o: InstantOptions): number | undefined {
  const trimmed = text.trim();
  const iso = ISO.exec(trimmed);
  if (iso) {
    const [, year, month, day, hour, minute, second, offset] = iso;
    const zone = offset === undefined ? o.zone : offset === 'Z' ? '+00:00' : offset.replace(/^(...)(\d\d)$/, '$1:$2');
    return civil({ year, month, day, hour, minute, second }, zone, o.defaultTime);
  }
  const match = CIVIL.exec(trimmed);
  if (!match || o.order === 'iso') return undefined;
  const [, first, second, year, hour, minute, seconds] = match;
  const [day, month] = o.order === 'dmy' ? [first, second] : [second, first];
  return civil(
    { year: year.length === 2 ? `20${year}` : year, month, day, hour, minute, second: seconds },
    o.zone,
    o.defaultTime,
  );
}

function civil(
  f: { year: string; month: string; day: string; hour?: string; minute?: string; second?: string },
  zone: string,
  defaultTime: string,
): number | undefined {
  const [defaultHour, defaultMinute] = defaultTime.split(':');
  try {
    return instantInZone({
      year: Number(f.year),
      month: Number(f.month),
      day: Number(f.day),
      hour: Number(f.hour ?? defaultHour),
      minute: Number(f.minute ?? defaultMinute),
      second: Number(f.second ?? 0),
      zone,
    });
  } catch {
    return undefined;
  }
}

/**
 * Order of day and month that fits all texts: ISO when each is ISO, else whichever order puts no number above 12 in the
 * month's place. `isAmbiguous` when both would do; then day first for dots, month first for slashes with a two-digit
 * lead is not guessed: day first.
 */
export function detectDateOrder(texts: readonly string[]): { order: DateOrder; isAmbiguous: boolean } {
  const civilDates = texts.map((t) => CIVIL.exec(t.trim())).filter((m) => m !== null);
  if (civilDates.length === 0) return { order: 'iso', isAmbiguous: false };
  const dayFirst = civilDates.every((m) => Number(m[2]) <= 12);
  const monthFirst = civilDates.every((m) => Number(m[1]) <= 12);
  if (!dayFirst && monthFirst) return { order: 'mdy', isAmbiguous: false };
  const hasDots = civilDates.some((m) => m[0].includes('.'));
  return { order: 'dmy', isAmbiguous: dayFirst && monthFirst && !hasDots };
}
