import type { Surface, SurfaceExpiry } from '@umwelt/core/surface';
import { isoInZone } from '@umwelt/market/zone';
import { finiteOrNull } from '../../api/finite-or-null.ts';
import type { ExpiryMarket, MarketResource } from '../../api/market-resource.ts';
import type { Side } from '../../api/quantity.ts';
import type { StoredSlice } from '../repositories/slices.ts';
import type { ResourceInput } from './resource-input.ts';
import { sessionDate } from './session-date.ts';

/** What is quoted at one instant, judged. @param surface of the same rows */
export function marketOf(surface: Surface, { stored, rows }: Pick<ResourceInput, 'stored' | 'rows'>): MarketResource {
  return {
    symbol: stored.symbol,
    asOf: isoInZone(rows[0].instant.getTime(), stored.zone),
    expiries: rows.map((row, i) => ({
      date: sessionDate(row.expiry, stored.zone),
      strikes: Array.from(row.strikes),
      call: sideRecord(row, surface.expiries[i], 'call'),
      put: sideRecord(row, surface.expiries[i], 'put'),
    })),
  };
}

function sideRecord(row: StoredSlice, e: SurfaceExpiry, side: Side): ExpiryMarket['call'] {
  const column = (values: ArrayLike<number>) => Array.from(values, finiteOrNull);
  const { bid, mid, ask } = e.volatilities(side);
  return {
    bid: column(row[`${side}Bid`]),
    ask: column(row[`${side}Ask`]),
    bidSize: column(row[`${side}BidSize`]),
    askSize: column(row[`${side}AskSize`]),
    last: column(row[`${side}Last`]),
    volume: column(row[`${side}Volume`]),
    openInterest: column(row[`${side}OpenInterest`]),
    bidVolatility: column(bid),
    midVolatility: column(mid),
    askVolatility: column(ask),
    verdict: e.verdicts[side].map((v) => v ?? null),
    earlyExercise: Array.from(e.premium?.[side] ?? new Float64Array(row.strikes.length)),
  };
}
