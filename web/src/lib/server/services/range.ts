import type { Picture } from '../../api/picture.ts';
import type { DailyBarRow, RangeExpiry } from '../../api/range.ts';
import type { Database } from '../database/connect.ts';
import { compute } from '../derive/pool.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { endedSessions } from './ended-sessions.ts';

/** How far the price is thought to go by some expiries of a picture, and by days between them. */
export function expectedRanges(
  { events, asOf, price, jumps, expiries, underlying }: Picture,
  o: { dates: string[]; coverages: number[]; days?: number[]; signal?: AbortSignal },
): Promise<{ expiries: RangeExpiry[]; between: (RangeExpiry | null)[] }> {
  const picture = { events, asOf, price, jumps, expiries };
  const task = { picture, dates: o.dates, coverages: o.coverages, days: o.days ?? [] };
  return compute('range', task, { lane: `range ${underlying.symbol}`, signal: o.signal });
}

/** The last bars of sessions that have ended by an instant, in shares of the last; sessions without one are left out. */
export async function barsBefore(
  database: Database,
  stored: StoredUnderlying,
  o: { instant: Date; count: number },
): Promise<DailyBarRow[]> {
  const { sessions, bars, shares } = await endedSessions(database, stored, o);
  return sessions.flatMap((session, i) => {
    if (Number.isNaN(bars.close[i])) return [];
    const of = (prices: Float64Array) => prices[i] / shares[i];
    return [{ session, open: of(bars.open), high: of(bars.high), low: of(bars.low), close: of(bars.close) }];
  });
}
