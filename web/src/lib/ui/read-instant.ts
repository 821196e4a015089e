const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const DAY = 86_400_000;

/**
 * Instant that a typed date means, in the zone and, where the year is left out, the year of the instant shown: `2031-02-28`,
 * `28 Feb`, `28 Feb 2031`, each with or without a time such as `11:15`, or days from the instant shown such as `-5`.
 * Without a time the end of the day is meant.
 * @returns ISO 8601 with the shown instant's offset; undefined for what is no date
 */
export function readInstant(text: string, shown: string): string | undefined {
  const offset = /(Z|[+-]\d{2}:\d{2})$/.exec(shown)?.[1] ?? 'Z';
  const words = text.trim().toLowerCase();
  const timed = /^(.*?)[\sT]+(\d{1,2}):(\d{2})$/.exec(words);
  const [date, hour, minute] = timed ? [timed[1].trim(), Number(timed[2]), Number(timed[3])] : [words, 23, 59];
  if (hour > 23 || minute > 59) return undefined;
  const day = readDay(date, shown.slice(0, 10));
  return day && `${day}T${two(hour)}:${two(minute)}:00${offset}`;
}

function readDay(text: string, shown: string): string | undefined {
  const back = /^([+-]\d{1,4})$/.exec(text);
  if (back) return new Date(Date.parse(shown) + Number(back[1]) * DAY).toISOString().slice(0, 10);
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text);
  if (iso) return civil(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const named = /^(\d{1,2})\.?\s*([a-z]{3})[a-z]*\s*(\d{4})?$/.exec(text);
  if (!named) return undefined;
  const month = MONTHS.indexOf(named[2]) + 1;
  return civil(named[3] ? Number(named[3]) : Number(shown.slice(0, 4)), month, Number(named[1]));
}

/** Date as text when it exists. */
function civil(year: number, month: number, day: number): string | undefined {
  const at = new Date(Date.UTC(year, month - 1, day));
  if (at.getUTCMonth() !== month - 1 || at.getUTCDate() !== day) return undefined;
  return at.toISOString().slice(0, 10);
}

function two(value: number): string {
  return String(value).padStart(2, '0');
}
