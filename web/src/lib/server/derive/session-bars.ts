import { type DailyBar, type DailyBars, dailyBars } from '@umwelt/core/volatility';
import { isoInZone } from '@umwelt/market/zone';

/** Bars of sessions that have ended, ascending, each with the close before it as dividends and splits leave it. */
export interface SessionBars {
  /** Civil dates */
  sessions: string[];
  bars: DailyBars;
  /** Shares of the last session that one share of each is */
  shares: Float64Array;
}

/** What bars are put together from, as it is stored. */
export interface StoredSessions {
  bars: readonly ({ session: string } & DailyBar)[];
  dividends: readonly { exDate: string; amount: number }[];
  splits: readonly { session: string; ratio: number }[];
  /** Dates of sessions that quotes are stored of: each should have a bar */
  quoted?: readonly string[];
}

/** No exchange is closed for longer (common practice, no source): between bars further apart some are missing. */
const LONGEST_CLOSURE_DAYS = 10;
const DAY = 86_400_000;

/**
 * Bars in columns. A session that quotes are stored of but no bar, and a pause longer than any closure, make a gap: no estimate
 * reaches over it.
 */
export function sessionBars({ bars, dividends, splits, quoted = [] }: StoredSessions): SessionBars {
  const byDate = new Map<string, DailyBar | undefined>(bars.map((bar) => [bar.session, bar]));
  const first = bars.length > 0 ? bars[0].session : '';
  const last = bars.length > 0 ? bars[bars.length - 1].session : '';
  for (const date of quoted) if (date > first && date < last && !byDate.has(date)) byDate.set(date, undefined);
  for (const [i, bar] of bars.entries()) {
    const before = i > 0 ? bars[i - 1].session : undefined;
    if (before === undefined || Date.parse(bar.session) - Date.parse(before) <= LONGEST_CLOSURE_DAYS * DAY) continue;
    const within = new Date(Date.parse(before) + DAY).toISOString().slice(0, 10);
    if (!byDate.has(within)) byDate.set(within, undefined);
  }
  const sessions = [...byDate.keys()].sort();
  const between = (date: string, i: number) => i > 0 && date > sessions[i - 1] && date <= sessions[i];
  const splitInto = (i: number) => splits.reduce((ratio, s) => (between(s.session, i) ? ratio * s.ratio : ratio), 1);
  const columns = dailyBars(
    sessions.map((date) => byDate.get(date)),
    (i) => ({
      dividend: dividends.reduce((sum, d) => (between(d.exDate, i) ? sum + d.amount : sum), 0),
      splitRatio: splitInto(i),
    }),
  );
  const shares = new Float64Array(sessions.length).fill(1);
  for (let i = sessions.length - 2; i >= 0; i--) shares[i] = shares[i + 1] * splitInto(i + 1);
  return { sessions, bars: columns, shares };
}

/** The last session that an instant knows the end of: bars of sessions up to `session`, or before it, may be looked at. */
export interface EndedSession {
  session: string;
  /** The instant's own session has ended */
  isOver: boolean;
}

/** @param o.sessionClose time of day, HH:MM, in the zone */
export function endedSession(
  instant: Date,
  { zone, sessionClose }: { zone: string; sessionClose: string },
): EndedSession {
  const local = isoInZone(instant.getTime(), zone);
  return { session: local.slice(0, 10), isOver: local.slice(11, 16) >= sessionClose };
}
