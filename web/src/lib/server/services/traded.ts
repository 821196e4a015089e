import type { ListedSpreadKind, TradedLeg } from '@umwelt/market/quote-source';
import { instantInZone, isoInZone } from '@umwelt/market/zone';
import { MOST_PRINTS, type SpreadsResponse, type TradedLegText, type TradesResponse } from '../../api/traded.ts';
import type { Database } from '../database/connect.ts';
import { spreadsWithin, tradesBetween } from '../repositories/trades.ts';
import type { StoredUnderlying } from '../repositories/underlyings.ts';
import { sessionDate } from '../derive/session-date.ts';

/** Prints of the session up to an instant, latest first. */
export async function tradesOf(database: Database, stored: StoredUnderlying, instant: Date): Promise<TradesResponse> {
  const rows = await tradesBetween(database, stored.id, { ...sessionUpTo(stored, instant), limit: MOST_PRINTS });
  const iso = (at: Date) => isoInZone(at.getTime(), stored.zone);
  return {
    symbol: stored.symbol,
    asOf: iso(instant),
    trades: rows.map(({ instant: at, legs, price, size, bid, ask }) => ({
      instant: iso(at),
      kind: kindOf(legs),
      legs: legTexts(legs, stored.zone),
      price,
      size,
      bid,
      ask,
    })),
  };
}

/** Listed spreads as they were last quoted in the session up to an instant. */
export async function spreadsOf(database: Database, stored: StoredUnderlying, instant: Date): Promise<SpreadsResponse> {
  const rows = await spreadsWithin(database, stored.id, sessionUpTo(stored, instant));
  const iso = (at: Date) => isoInZone(at.getTime(), stored.zone);
  return {
    symbol: stored.symbol,
    asOf: iso(instant),
    quotedAt: rows.length > 0 ? iso(rows[0].instant) : null,
    spreads: rows.map(({ kind, legs, bid, ask, bidSize, askSize }) => ({
      kind,
      legs: legTexts(legs, stored.zone),
      bid,
      ask,
      bidSize,
      askSize,
    })),
  };
}

function sessionUpTo({ zone }: StoredUnderlying, instant: Date): { from: Date; to: Date } {
  const [year, month, day] = sessionDate(instant, zone).split('-').map(Number);
  return { from: new Date(instantInZone({ year, month, day, hour: 0, minute: 0, second: 0, zone })), to: instant };
}

function legTexts(legs: TradedLeg[], zone: string): TradedLegText[] {
  return legs.map(({ expiry, ...leg }) => ({ expiry: sessionDate(new Date(expiry), zone), ...leg }));
}

/** Kind of what was traded, by its legs. */
function kindOf(legs: TradedLeg[]): ListedSpreadKind | 'outright' {
  if (legs.length < 2) return 'outright';
  const [a, b] = legs;
  if (a.expiry !== b.expiry) return 'calendar';
  if (a.side === b.side) return 'vertical';
  return a.strike === b.strike ? 'straddle' : 'strangle';
}
