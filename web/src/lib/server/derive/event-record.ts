import { closeReturn } from '@umwelt/core/volatility';
import { isoInZone } from '@umwelt/market/zone';
import type { EventOutcome } from '../../api/odds-record.ts';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { StoredLaw } from '../repositories/stored-laws.ts';
import { eventSessions } from './event-sessions.ts';
import type { SessionBars } from './session-bars.ts';
import { sessionDate } from './session-date.ts';

/**
 * Scheduled events that are over: the move that options priced at the end of the session before, and what came. Where the evening
 * before was not kept, or its expiries did not tell, the move is not known.
 */
export function eventRecord(
  events: readonly { instant: Date; kind: string; label: string }[],
  laws: readonly StoredLaw[],
  { ended, ...o }: { ended: SessionBars; zone: string; sessionClose: string },
): EventOutcome[] {
  const { sessions, bars } = ended;
  const moved = eventSessions(events, sessions, o);
  return events.flatMap(({ instant, kind, label }, i): EventOutcome[] => {
    const session = moved[i];
    // Its session has not ended yet.
    if (session === undefined) return [];
    const index = sessions.indexOf(session);
    const evening =
      index < 1 ? undefined : laws.find((law) => sessionDate(law.instant, o.zone) === sessions[index - 1]);
    const told = evening?.eventMoves.find((m) => m.kind === kind && Date.parse(m.instant) === instant.getTime());
    return [
      {
        label,
        instant: isoInZone(instant.getTime(), o.zone),
        evening: evening ? isoInZone(evening.instant.getTime(), o.zone) : null,
        move: told?.move ?? null,
        low: told?.interval[0] ?? null,
        high: told?.interval[1] ?? null,
        came: finiteOrNull(closeReturn(bars, index)),
      },
    ];
  });
}
