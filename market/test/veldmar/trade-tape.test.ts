import { expect, test } from 'vitest';
import type { TradedLeg, TradePrint } from '../../src/quote-source/index.ts';
import { keptInstants, TODAY_DAY, type SimulatedSlice } from '../../src/veldmar/index.ts';
import { market } from './derived.ts';

const key = (leg: TradedLeg) => `${leg.expiry} ${leg.side} ${leg.strike}`;

function quoteOf(slices: SimulatedSlice[], leg: TradedLeg) {
  const slice = slices.find((s) => s.expiry === leg.expiry) as SimulatedSlice;
  const i = slice.strikes.indexOf(leg.strike);
  return { bid: slice[`${leg.side}Bid`][i], ask: slice[`${leg.side}Ask`][i] };
}

/** Volume of every quoted contract. */
function volumesOf(slices: SimulatedSlice[]): Map<string, number> {
  const volumes = new Map<string, number>();
  for (const slice of slices) {
    for (const side of ['call', 'put'] as const) {
      slice.strikes.forEach((strike, i) =>
        volumes.set(key({ expiry: slice.expiry, side, strike, ratio: 1 }), slice[`${side}Volume`][i]),
      );
    }
  }
  return volumes;
}

test.each(['VM50', 'MERRO', 'RYE'])(
  "%s: a session's prints add up to each contract's volume, spreads' legs included, and met their quotes",
  (symbol) => {
    const volumes = new Map<string, number>();
    const prints: TradePrint[] = [];
    let before: SimulatedSlice[] = [];
    for (const instant of keptInstants(symbol, TODAY_DAY)) {
      const slices = market.slices(symbol, instant);
      const earlier = volumesOf(before);
      const fresh = market.trades(symbol, before, slices);
      prints.push(...fresh);
      const now = new Map<string, number>();
      for (const { legs, size } of fresh) {
        for (const leg of legs) now.set(key(leg), (now.get(key(leg)) ?? 0) + size * Math.abs(leg.ratio));
      }
      const wrong: string[] = [];
      for (const [contract, volume] of volumesOf(slices)) {
        // Never falls within a session, and rises by what was printed.
        if (volume < (volumes.get(contract) ?? 0)) wrong.push(contract);
        if ((now.get(contract) ?? 0) !== volume - (earlier.get(contract) ?? 0)) wrong.push(contract);
        volumes.set(contract, volume);
      }
      expect(wrong).toEqual([]);
      before = slices;
    }
    const isSorted = prints.every((print, i) => i === 0 || prints[i - 1].instant <= print.instant);
    expect(isSorted).toBe(true);
    // Crossed quotes are faults of the feed.
    const isMet = (p: TradePrint) =>
      p.price >= Math.min(p.bid, p.ask) - 1e-9 && p.price <= Math.max(p.bid, p.ask) + 1e-9;
    expect(prints.filter((p) => !isMet(p) || !Number.isInteger(p.size) || p.size < 1)).toEqual([]);
    const spreads = prints.filter((p) => p.legs.length > 1).length;
    expect(spreads).toBeGreaterThan(5);
    expect(prints.length).toBeGreaterThan(10 * spreads);
  },
);

test.each(['VM50', 'KELPA', 'TERN'])('%s: listed spreads are quoted inside what their legs cost', (symbol) => {
  const slices = market.slices(symbol, keptInstants(symbol, TODAY_DAY).at(-1) as number);
  const spreads = market.spreads(symbol, slices);
  expect(new Set(spreads.map((s) => s.kind))).toEqual(new Set(['vertical', 'straddle', 'strangle', 'calendar']));
  for (const { legs, bid, ask, bidSize, askSize } of spreads) {
    let [low, high] = [0, 0];
    for (const leg of legs) {
      const quote = quoteOf(slices, leg);
      low += leg.ratio * (leg.ratio > 0 ? quote.bid : quote.ask);
      high += leg.ratio * (leg.ratio > 0 ? quote.ask : quote.bid);
    }
    expect(bid).toBeLessThan(ask);
    expect(bid).toBeGreaterThanOrEqual(Math.max(0, low) - 1e-9);
    expect(ask).toBeLessThanOrEqual(Math.max(high, 0) + 1e-9);
    expect(askSize).toBeGreaterThan(0);
    expect(bidSize > 0).toBe(bid > 0);
  }
});
