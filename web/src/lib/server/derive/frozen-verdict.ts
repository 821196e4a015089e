import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { FrozenLevel } from '../../api/range.ts';
import type { StoredFrozenLevel } from '../database/schema.ts';
import type { EndedSession, SessionBars } from './session-bars.ts';

/**
 * A kept level held against the sessions that have ended since: where the last one up to its expiry closed, and which was the first
 * to close outside. Splits in between are taken out.
 * @param kept session of the instant that it was kept at; its own close counts unless it was over by then
 */
export function frozenVerdict(
  level: StoredFrozenLevel,
  kept: EndedSession,
  { sessions, bars, shares }: SessionBars,
): FrozenLevel {
  const start = sessions.findLastIndex((session) => session <= kept.session);
  const sharesThen = start < 0 ? 1 : shares[start];
  // In shares of when it was kept.
  const closeAt = (i: number) => (bars.close[i] / shares[i]) * sharesThen;
  const within = sessions.flatMap((session, i) =>
    (kept.isOver ? session > kept.session : session >= kept.session) &&
    session <= level.date &&
    !Number.isNaN(bars.close[i])
      ? [{ session, close: closeAt(i) }]
      : [],
  );
  const last = within[within.length - 1];
  const isOver = sessions.length > 0 && sessions[sessions.length - 1] >= level.date;
  const isInside = (close: number) => close >= level.low && close <= level.high;
  const state = !isOver || !last ? 'open' : isInside(last.close) ? 'inside' : 'outside';
  const distance = last ? Math.min(last.close - level.low, level.high - last.close) : NaN;
  const nearer = last && last.close - level.low < level.high - last.close ? level.low : level.high;
  return {
    ...level,
    state,
    settled: last ? last.close : null,
    distance: finiteOrNull(distance / nearer),
    left: within.find(({ close }) => !isInside(close))?.session ?? null,
  };
}
