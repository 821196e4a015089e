import type { DateOrder } from '../chain-format/index.ts';
import { instantInZone, isZone } from '../zone/index.ts';

export interface InstantOptions {
  order: DateOrder;
  /** Zone of texts that name none */
  zone: string;
  /** Time of dates without one, HH:MM */
  defaultTime: string;
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const MONTH =
  '(?:jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?)\\.?';
const WEEKDAY = '(?:(?:mon|tue|tues|wed|thu|thur|thurs|fri|sat|sun)(?:day|nesday|sday|rsday|urday)?\\.?,?\\s+)?';
const GAP = '[\\s./-]*';

/** Ways to write a date; each names year, month and day. */
const DATES: readonly { pattern: string; read: 'iso' | 'numbers' | 'words' }[] = [
  { pattern: '(?<year>\\d{4})(?<sep>[-/.]?)(?<month>\\d{2})\\k<sep>(?<day>\\d{2})', read: 'iso' },
  { pattern: '(?<first>\\d{1,2})(?<sep>[./-])(?<second>\\d{1,2})\\k<sep>(?<year>\\d{4}|\\d{2})', read: 'numbers' },
  {
    pattern: `(?<day>\\d{1,2})(?:st|nd|rd|th)?${GAP}(?<name>${MONTH})[\\s,./-]*(?<year>\\d{4}|['’]?\\d{2})`,
    read: 'words',
  },
  {
    pattern: `(?<name>${MONTH})${GAP}(?<day>\\d{1,2})(?:st|nd|rd|th)?[\\s,./-]+(?<year>\\d{4}|['’]\\d{2})`,
    read: 'words',
  },
  { pattern: `(?<year>\\d{4})${GAP}(?<name>${MONTH})${GAP}(?<day>\\d{1,2})`, read: 'words' },
];
const TIME = '(?<hour>\\d{1,2}):?(?<minute>\\d{2})(?::?(?<seconds>\\d{2})(?:[.,]\\d+)?)?\\s*(?<half>[ap]\\.?m\\.?)?';
const ZONE = '(?<zone>Z|UTC|GMT|[+-]\\d{2}:?\\d{2}|\\[?[A-Za-z]+/[A-Za-z0-9_+-]+(?:/[A-Za-z0-9_+-]+)?\\]?)';
const BETWEEN = '(?:T|,?\\s+(?:at\\s+)?)';
const REST = `(?:${BETWEEN}${TIME}(?:\\s*${ZONE}(?:\\s*\\[[^\\]]*\\])?)?)?`;

const WHOLE = DATES.map(({ pattern, read }) => ({ read, test: new RegExp(`^${WEEKDAY}${pattern}${REST}$`, 'i') }));
const WITHIN = DATES.map(({ pattern }) => new RegExp(`(?<![\\w.,])${WEEKDAY}${pattern}${REST}(?![\\w])`, 'i'));
const CLOCK = new RegExp(`^${TIME}(?:\\s*${ZONE})?$`, 'i');

/** Seconds since 1970 in ten digits, milliseconds in thirteen: those of our time, and no other number of a chain. */
const EPOCH = /^\d{10}(?:\d{3})?$/;

type Groups = Record<string, string | undefined>;

/**
 * Instant in milliseconds since 1970 UTC: a date in ISO 8601, in numbers or with the month's English name, with a time or
 * without, with an offset, an IANA zone or without.
 * @returns undefined when the text is no existing date
 */
export function parseInstant(text: string, o: InstantOptions): number | undefined {
  const trimmed = text.trim();
  if (EPOCH.test(trimmed)) return Number(trimmed) * (trimmed.length === 10 ? 1000 : 1);
  for (const { test, read } of WHOLE) {
    const groups = test.exec(trimmed)?.groups as Groups | undefined;
    if (!groups) continue;
    const date = dateOf(groups, read, o.order);
    return date && instantOf(date, clockOf(groups, o.defaultTime), groups.zone, o.zone);
  }
  return undefined;
}

/** Instant of a date in one cell and a time of day in another. */
export function parseInstantInTwo(date: string, time: string, o: InstantOptions): number | undefined {
  const groups = CLOCK.exec(time.trim())?.groups as Groups | undefined;
  if (!groups) return parseInstant(time, o) ?? (time.trim() === '' ? parseInstant(date, o) : undefined);
  const clock = clockOf(groups, o.defaultTime);
  return (
    clock &&
    parseInstant(date, { ...o, zone: zoneOf(groups.zone) ?? o.zone, defaultTime: `${clock.hour}:${clock.minute}` })
  );
}

/** The part of a running text that is a date, with its time if it has one. */
export function findDate(text: string): string | undefined {
  for (const within of WITHIN) {
    const found = within.exec(text);
    if (found) return found[0].trim();
  }
  return undefined;
}

/** Zone that a text of an instant names, UTC aside, which says where a program ran but not where the market is. */
export function zoneNamed(text: string): string | undefined {
  const zone = zoneOf(groupsOf(text)?.zone);
  return zone !== undefined && zone !== '+00:00' && isZone(zone) ? zone : undefined;
}

/** Time of day, HH:MM, that a text of an instant names. */
export function clockNamed(text: string): string | undefined {
  const groups = groupsOf(text);
  const clock = groups?.hour === undefined ? undefined : clockOf(groups, '00:00');
  return clock && [clock.hour, clock.minute].map((n) => String(n).padStart(2, '0')).join(':');
}

function groupsOf(text: string): Groups | undefined {
  for (const { test } of WHOLE) {
    const groups = test.exec(text.trim())?.groups as Groups | undefined;
    if (groups) return groups;
  }
  return undefined;
}

function dateOf(g: Groups, read: 'iso' | 'numbers' | 'words', order: DateOrder) {
  const year = (g.year ?? '').replace(/\D/g, '');
  const full = Number(year.length === 2 ? `20${year}` : year);
  switch (read) {
    case 'iso':
      return { year: full, month: Number(g.month), day: Number(g.day) };
    case 'words':
      return { year: full, month: MONTHS.indexOf((g.name ?? '').slice(0, 3).toLowerCase()) + 1, day: Number(g.day) };
    case 'numbers': {
      if (order === 'iso') return undefined;
      const [day, month] = order === 'dmy' ? [g.first, g.second] : [g.second, g.first];
      return { year: full, month: Number(month), day: Number(day) };
    }
  }
}

/** Hour, minute and second; undefined where twelve hours a half are exceeded. */
function clockOf(g: Groups, defaultTime: string) {
  if (g.hour === undefined) {
    const [hour, minute] = defaultTime.split(':').map(Number);
    return { hour, minute, second: 0 };
  }
  const given = Number(g.hour);
  const half = g.half?.[0].toLowerCase();
  if (half && (given < 1 || given > 12)) return undefined;
  const hour = half ? (given % 12) + (half === 'p' ? 12 : 0) : given;
  return { hour, minute: Number(g.minute), second: Number(g.seconds ?? 0) };
}

function zoneOf(text: string | undefined): string | undefined {
  if (text === undefined) return undefined;
  const plain = text.replace(/[[\]]/g, '');
  if (/^(?:z|utc|gmt)$/i.test(plain)) return '+00:00';
  return plain.replace(/^([+-]\d\d)(\d\d)$/, '$1:$2');
}

function instantOf(
  date: { year: number; month: number; day: number },
  clock: ReturnType<typeof clockOf>,
  named: string | undefined,
  otherwise: string,
): number | undefined {
  const zone = zoneOf(named) ?? otherwise;
  if (!clock || !isZone(zone)) return undefined;
  try {
    return instantInZone({ ...date, ...clock, zone });
  } catch {
    return undefined;
  }
}

const IN_NUMBERS = new RegExp(`^${WEEKDAY}${DATES[1].pattern}(?:\\D.*)?$`, 'i');

/**
 * Order of day and month that fits all texts: ISO when none is written in numbers another way, else whichever order puts no
 * number above 12 in the month's place. `isAmbiguous` when both would do and no dots, which go with the day first, tell; then
 * the day is taken to be first.
 */
export function detectDateOrder(texts: readonly string[]): { order: DateOrder; isAmbiguous: boolean } {
  const civil = texts
    .map((t) => IN_NUMBERS.exec(t.trim())?.groups as Groups | undefined)
    .filter((g) => g !== undefined);
  if (civil.length === 0) return { order: 'iso', isAmbiguous: false };
  const dayFirst = civil.every((g) => Number(g.second) <= 12);
  const monthFirst = civil.every((g) => Number(g.first) <= 12);
  if (!dayFirst && monthFirst) return { order: 'mdy', isAmbiguous: false };
  const hasDots = civil.some((g) => g.sep === '.');
  return { order: 'dmy', isAmbiguous: dayFirst && monthFirst && !hasDots };
}
