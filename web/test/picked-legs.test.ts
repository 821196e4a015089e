import fc from 'fast-check';
import { expect, test } from 'vitest';
import { whiskerScale } from '../src/lib/views/chain/ladder-texts.ts';
import { filteredRows } from '../src/lib/views/chain/chain-filter.ts';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import { legsText, MOST_LEGS, pick, pickedOf } from '../src/lib/api/picked-legs.ts';
import { strikeStepped } from '../src/lib/views/structure/structure-edit.ts';
import { together } from '../src/lib/shell/legs-together.ts';
import { mirrored, strikeRows } from '../src/lib/views/chain/two-sided.ts';
import { CHAIN_COLUMNS } from '../src/lib/views/chain/chain-columns.ts';
import type { ChainRow } from '../src/lib/api/chain-row.ts';

const option = fc.record({
  expiry: fc.constantFrom('2031-03-21', '2031-04-18'),
  strike: fc.constantFrom(57.5, 60, 4600),
  side: fc.constantFrom('call' as const, 'put' as const),
});
const steps = fc.array(fc.tuple(option, fc.constantFrom(1 as const, -1 as const)), { maxLength: 40 });
const after = (all: Parameters<typeof pick>[1][], by: (1 | -1)[]) =>
  all.reduce<ReturnType<typeof pick>>((legs, one, i) => pick(legs, one, by[i]), []);

test('legs count what was picked, come back from the address, and never hold nothing', () => {
  fc.assert(
    fc.property(steps, (drawn) => {
      const legs = after(
        drawn.map(([o]) => o),
        drawn.map(([, s]) => s),
      );
      for (const [o] of drawn) {
        const key = (x: typeof o) => `${x.expiry}${x.strike}${x.side}`;
        const count = drawn.filter(([x]) => key(x) === key(o)).reduce((sum, [, s]) => sum + s, 0);
        expect(pickedOf(legs, o)).toBe(count);
      }
      expect(legs.every((l) => l.ratio !== 0)).toBe(true);
      expect(asOfContext.parse({ legs: legsText(legs) }).legs).toEqual(legs);
    }),
  );
  expect(asOfContext.parse({ legs: '1~2031-04-18~x~put' }).legs).toEqual([]);
  // However it is said, each option stands once, and what comes to nothing does not.
  const said = '1~2031-04-18~60~put,2~2031-04-18~60~put,1~2031-04-18~65~put,-1~2031-04-18~65~put,0~2031-04-18~70~put';
  expect(asOfContext.parse({ legs: said }).legs).toEqual([{ ratio: 3, expiry: '2031-04-18', strike: 60, side: 'put' }]);
  const many = Array.from({ length: 20 }, (_, i) => ({ expiry: '2031-04-18', strike: 100 + i, side: 'put' as const }));
  expect(after(many, Array<1>(20).fill(1))).toHaveLength(MOST_LEGS);
});

test('what is bid for legs never lies above what they are offered at, turned round it changes sides, and unknown stays unknown', () => {
  const quote = fc.tuple(fc.double({ min: 0, max: 50, noNaN: true }), fc.double({ min: 0, max: 5, noNaN: true }));
  const one = fc.record({
    ratio: fc.integer({ min: -9, max: 9 }).filter((n) => n !== 0),
    quote,
    delta: fc.double({ min: -1, max: 1, noNaN: true }),
  });
  fc.assert(
    fc.property(fc.array(one, { minLength: 1, maxLength: 6 }), (drawn) => {
      const legs = drawn.map(({ ratio }, i) => ({
        ratio,
        expiry: '2031-04-18',
        strike: 100 + i,
        side: 'call' as const,
      }));
      const quotes = drawn.map(({ quote: [bid, width] }) => ({ bid, ask: bid + width }));
      const values = drawn.map(({ quote: [bid, width], delta }) => ({ price: bid + width / 2, delta }));
      const net = together(legs, values, quotes);
      const back = together(
        legs.map((l) => ({ ...l, ratio: -l.ratio })),
        values,
        quotes,
      );
      expect(net.bid ?? NaN).toBeLessThanOrEqual((net.ask ?? NaN) + 1e-9);
      expect((net.bid ?? NaN) + (back.ask ?? NaN)).toBeCloseTo(0, 9);
      expect(net.theory ?? NaN).toBeGreaterThanOrEqual((net.bid ?? NaN) - 1e-9);
      expect((net.delta ?? NaN) + (back.delta ?? NaN)).toBeCloseTo(0, 9);
      expect(together(legs, [undefined, ...values.slice(1)], quotes).theory).toBeNull();
      expect(together(legs, values, [{ bid: null, ask: null }, ...quotes.slice(1)]).bid).toBeNull();
    }),
  );
});

test('the calls stand mirrored to the puts, a bid always before its offer, and each strike is one row', () => {
  const ids = CHAIN_COLUMNS.map((c) => c.id);
  fc.assert(
    fc.property(fc.shuffledSubarray(ids), (chosen) => {
      const turned = mirrored(chosen);
      expect([...turned].sort()).toEqual([...chosen].sort());
      for (const [bid, ask] of [
        ['bid', 'ask'],
        ['bidVolatility', 'askVolatility'],
      ]) {
        const at = chosen.indexOf(bid as (typeof ids)[number]);
        if (at >= 0 && chosen[at + 1] === ask) expect(turned[turned.indexOf(bid) + 1]).toBe(ask);
      }
    }),
  );
  const quote = (strike: number, side: 'call' | 'put') => ({ strike, side }) as ChainRow;
  const rows = strikeRows([
    quote(110, 'call'),
    quote(110, 'put'),
    quote(100, 'call'),
    quote(100, 'put'),
    quote(90, 'put'),
  ]);
  expect(rows.map((r) => [r.strike, r.call.side, r.put.side])).toEqual([
    [110, 'call', 'put'],
    [100, 'call', 'put'],
  ]);
});

test('a filter keeps strikes whole, the nearer it is asked for the fewer, and all of them without one', () => {
  const quote = fc.record({
    strike: fc.integer({ min: 50, max: 200 }),
    side: fc.constantFrom('call' as const, 'put' as const),
    volume: fc.option(fc.integer({ min: 0, max: 3 })),
    verdict: fc.option(fc.constant('stale' as const)),
  });
  const drawn = fc.uniqueArray(quote, { selector: (q) => `${q.strike}${q.side}`, maxLength: 40 });
  fc.assert(
    fc.property(drawn, fc.double({ min: 0.05, max: 1, noNaN: true }), (quotes, atm) => {
      const rows = quotes as ChainRow[];
      const of = (filter: Parameters<typeof filteredRows>[1], level: number | null = atm) =>
        filteredRows(rows, filter, { forward: 100, atm: level, years: 0.25 });
      expect(of('all')).toEqual(rows);
      expect(of('within3', null)).toEqual(rows);
      expect(of('within3')).toEqual(expect.arrayContaining(of('within2')));
      for (const row of of('within2'))
        expect(Math.abs(Math.log(row.strike / 100)) / (atm * 0.5)).toBeLessThanOrEqual(2);
      for (const [filter, holds] of [
        ['traded', (r: ChainRow) => (r.volume ?? 0) > 0],
        ['excluded', (r: ChainRow) => r.verdict !== null],
      ] as const) {
        const kept = of(filter);
        const strikes = new Set(rows.filter(holds).map((r) => r.strike));
        expect(kept).toEqual(rows.filter((r) => strikes.has(r.strike)));
      }
    }),
  );
});

test('a chain without a good quote has a scale all the same, and one with them keeps every whisker inside', () => {
  const row = {
    verdict: null,
    strike: 100,
    side: 'call',
    bidVolatility: null,
    askVolatility: null,
    fitVolatility: null,
  };
  const none = whiskerScale([row as ChainRow], 90, 100);
  expect([none.scale(0.2), none.ends]).toEqual([50, undefined]);
  const { scale } = whiskerScale([{ ...row, bidVolatility: 0.2, askVolatility: 0.3 } as ChainRow], 90, 100);
  for (const volatility of [0, 0.2, 0.25, 0.3, 9]) {
    expect(scale(volatility)).toBeGreaterThan(0);
    expect(scale(volatility)).toBeLessThan(100);
  }
});

test('a leg steps through listed strikes and stops at the ends; one that is not listed comes to the nearest', () => {
  const expiries = [{ date: '2031-04-18', strikes: [90, 95, 100], forward: 96, years: 0.1, atm: 0.2 }];
  const at = (strike: number) => [{ ratio: -1, expiry: '2031-04-18', strike, side: 'put' as const }];
  const stepped = (strike: number, step: number) => strikeStepped(at(strike), 0, step, expiries)[0].strike;
  expect([stepped(95, 1), stepped(95, -1), stepped(100, 1), stepped(90, -1)]).toEqual([100, 90, 100, 90]);
  expect([stepped(96, 1), stepped(42, -1)]).toEqual([95, 90]);
  expect(strikeStepped(at(95), 0, 1, [])).toEqual(at(95));
});
