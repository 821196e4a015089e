import ICAL from 'ical.js';
import { isSymbol } from '../symbol/index.ts';
import { INSTANT_RANGE, instantOf, isInRange, isZone } from '../zone/index.ts';

/** A scheduled event as a calendar holds it. */
export interface CalendarEvent {
  underlying: string;
  /** Milliseconds since 1970 UTC */
  instant: number;
  kind: string;
  label: string;
}

const PRODUCT = '-//Umwelt//Scheduled events//EN';

/**
 * Events as an iCalendar object (RFC 5545): one VEVENT each, in UTC, with the underlying and the kind as categories and an
 * identifier that stays the same in every export.
 * @param stamp instant of the writing, milliseconds since 1970 UTC
 */
export function writeCalendar(events: readonly CalendarEvent[], stamp: number): string {
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('prodid', PRODUCT);
  calendar.addPropertyWithValue('version', '2.0');
  for (const { underlying, instant, kind, label } of events) {
    const event = new ICAL.Component('vevent');
    event.addPropertyWithValue('uid', `${underlying}-${kind}-${instant}@umwelt`);
    event.addPropertyWithValue('dtstamp', timeOf(stamp));
    event.addPropertyWithValue('dtstart', timeOf(instant));
    event.addPropertyWithValue('summary', `${underlying}: ${label}`);
    const categories = new ICAL.Property('categories', event);
    categories.setValues([underlying, kind]);
    event.addProperty(categories);
    calendar.addSubcomponent(event);
  }
  // Lines end as the standard wants them, the last one too.
  return `${calendar.toString()}\r\n`;
}

function timeOf(instant: number): ICAL.Time {
  return ICAL.Time.fromJSDate(new Date(instant), true);
}

export type CalendarResult = { ok: true; events: CalendarEvent[] } | { ok: false; reason: string };

/**
 * Reads the events of an iCalendar object: the underlying from the first category or from the summary before its colon,
 * the kind from the second category. An event of a whole day begins at midnight; what has no zone of its own is in `zone`.
 */
export function readCalendar(text: string, zone: string): CalendarResult {
  let components: ICAL.Component[];
  try {
    components = new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent');
  } catch (error) {
    return { ok: false, reason: error instanceof Error ? error.message.split('\n', 1)[0] : String(error) };
  }
  const events: CalendarEvent[] = [];
  for (const [i, component] of components.entries()) {
    const event = new ICAL.Event(component);
    const start = event.startDate as ICAL.Time | null;
    if (!start) return { ok: false, reason: `event ${i + 1} has no start (DTSTART)` };
    const categories = component.getFirstProperty('categories')?.getValues().map(String) ?? [];
    const [before, after] = splitSummary(event.summary ?? '');
    const underlying = categories[0] ?? before;
    if (!underlying)
      return { ok: false, reason: `event ${i + 1} names no underlying: write "KELPA: Report" or a category` };
    const instant = instantOfStart(start, component, zone);
    if (instant === undefined || !isInRange(instant))
      return {
        ok: false,
        reason: `event ${i + 1} starts at ${start.toString().slice(0, 40)}: not within ${INSTANT_RANGE}`,
      };
    events.push({ underlying, instant, kind: categories[1] ?? 'event', label: after });
  }
  return { ok: true, events };
}

/** A time with Z is in UTC, one with a TZID in that zone, any other in the given one. */
function instantOfStart(start: ICAL.Time, component: ICAL.Component, zone: string): number | undefined {
  const text = start.toString();
  const named = component.getFirstProperty('dtstart')?.getParameter('tzid');
  const place = typeof named === 'string' && isZone(named) ? named : zone;
  return instantOf(start.isDate ? `${text}T00:00:00` : text, place);
}

function splitSummary(summary: string): [underlying: string | undefined, label: string] {
  const colon = summary.indexOf(': ');
  const before = summary.slice(0, Math.max(0, colon));
  return isSymbol(before) ? [before, summary.slice(colon + 2)] : [undefined, summary];
}
