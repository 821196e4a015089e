import { isoInZone } from '@umwelt/market/zone';

/**
 * Sessions in whose return scheduled events show: the one in which the event falls, or before which, since the night before it
 * belongs to it.
 * @param sessions ascending
 */
export function eventSessions(
  events: readonly { instant: Date }[],
  sessions: readonly string[],
  o: { zone: string; sessionClose: string },
): (string | undefined)[] {
  return events.map(({ instant }) => {
    const local = isoInZone(instant.getTime(), o.zone);
    const [date, time] = [local.slice(0, 10), local.slice(11, 16)];
    return sessions.find((s) => s > date || (s === date && time <= o.sessionClose));
  });
}
