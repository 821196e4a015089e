import { createHash } from 'node:crypto';
import { expect, test } from 'vitest';
import { deriveSurface, isFault } from '@umwelt/core/surface';
import { calendarYears } from '@umwelt/core/time';
import { type SimulatedSlice, simulateMarket } from '../../src/veldmar/index.ts';

const digest = (value: unknown) => createHash('sha256').update(JSON.stringify(value)).digest('hex');
const market = simulateMarket({ seed: 5, sessions: 4 });

test('one seed gives the same market, another seed another', () => {
  expect(digest(simulateMarket({ seed: 5, sessions: 4 }))).toBe(digest(market));
  expect(digest(simulateMarket({ seed: 6, sessions: 4 }))).not.toBe(digest(market));
});

test('every underlying has chains and bars for every session, today first seen at 14:00 exchange time', () => {
  for (const symbol of ['VM50', 'VFRT', 'TERN']) {
    const own = market.slices.filter((s) => s.symbol === symbol);
    expect(new Set(own.map((s) => s.instant)).size).toBe(4);
    expect(market.bars.filter((b) => b.symbol === symbol)).toHaveLength(4);
    expect(new Date(Math.max(...own.map((s) => s.instant))).toISOString()).toBe('2031-03-14T13:00:00.000Z');
  }
});

test('the surfaces that come out are fitted inside the market and free of arbitrage', () => {
  const last = Math.max(...market.slices.map((s) => s.instant));
  for (const symbol of ['VM50', 'VFRT', 'TERN']) {
    const rows = market.slices.filter((s) => s.symbol === symbol && s.instant === last);
    const surface = deriveSurface({ spot: rows[0].underlyingPrice, slices: rows.map(toSlice) });
    for (const e of surface.expiries) {
      expect(e.smile?.insideMarket, `${symbol} ${e.slice.timeToExpiry}`).toBeGreaterThanOrEqual(0.9);
      expect(e.isArbitrageFree).toBe(true);
      const faults = [...e.verdicts.call, ...e.verdicts.put].filter((v) => v && isFault(v)).length;
      expect(faults).toBeLessThanOrEqual(3);
    }
  }
});

function toSlice(s: SimulatedSlice) {
  return {
    timeToExpiry: calendarYears(s.instant, s.expiry),
    strikes: Float64Array.from(s.strikes),
    callBid: Float64Array.from(s.callBid),
    callAsk: Float64Array.from(s.callAsk),
    putBid: Float64Array.from(s.putBid),
    putAsk: Float64Array.from(s.putAsk),
  };
}
