import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  type BrokerQuotes,
  type LegQuote,
  type OrderLeg,
  type OrderRequest,
  PaperBroker,
  paperBrokerState,
} from '../../src/paper-broker/index.ts';

const EXPIRY = Date.parse('2031-04-18T16:30:00Z');
const NOW = Date.parse('2031-03-14T13:00:00Z');
const call = (strike: number, ratio: number): OrderLeg => ({ expiry: EXPIRY, side: 'call', strike, ratio });
const FEE = 0.6;

function market(quotes: Record<number, LegQuote>, instant = NOW, isOpen = true): BrokerQuotes {
  return {
    instant,
    isOpen,
    quoteOf: (_, leg) => quotes[leg.strike ?? 0],
    multiplierOf: (_, leg) => (leg.expiry === null ? 1 : 100),
  };
}
const quote = (bid: number, ask: number, size = 10): LegQuote => ({ bid, ask, bidSize: size, askSize: size });
const order = (legs: OrderLeg[], quantity: number, limit: number | null): OrderRequest => ({
  symbol: 'KELPA',
  legs,
  quantity,
  limit,
});

test('a vertical fills at the far sides, as far as both legs are shown, and the rest when more comes', () => {
  const broker = new PaperBroker();
  const placed = broker.place(
    order([call(80, 1), call(85, -1)], 12, 2.5),
    market({ 80: quote(3.8, 4, 10), 85: quote(1.6, 1.7, 7) }),
  );
  expect(placed).toMatchObject({ state: 'working', filled: 7 });
  expect(placed.fills[0].price).toBeCloseTo(4 - 1.6, 12);
  // Dearer than the limit: nothing; then back.
  expect(broker.meet(market({ 80: quote(4.2, 4.3), 85: quote(1.6, 1.7) }))).toEqual([]);
  const [done] = broker.meet(market({ 80: quote(3.9, 4.1), 85: quote(1.7, 1.8) }));
  expect(done).toMatchObject({ state: 'filled', filled: 12 });
  expect(broker.cash()).toBeCloseTo(-(7 * 2.4 + 5 * 2.4) * 100 - FEE * 24, 9);
  expect(broker.positions().map((p) => p.quantity)).toEqual([12, -12]);
  expect(broker.cancel(placed.id)).toBe(false);
});

test('crossed, one-sided and closed markets fill nothing; what is not listed or has expired is refused', () => {
  const broker = new PaperBroker();
  const buy = order([call(80, 1)], 1, null);
  for (const bad of [quote(4, 3.9), quote(3, NaN), { ...quote(3, 4), askSize: 0 }]) {
    expect(broker.place(buy, market({ 80: bad }))).toMatchObject({ state: 'working', filled: 0 });
  }
  expect(broker.place(buy, market({ 80: quote(3, 4) }, NOW, false))).toMatchObject({ state: 'working', filled: 0 });
  expect(broker.place(buy, market({}))).toMatchObject({ state: 'refused', reason: 'not-quoted' });
  expect(broker.place(buy, market({ 80: quote(3, 4) }, EXPIRY))).toMatchObject({ state: 'refused', reason: 'expired' });
  // Working orders end with their expiry.
  expect(broker.meet(market({ 80: quote(3, 4) }, EXPIRY)).map((o) => [o.state, o.reason])).toEqual(
    Array.from({ length: 4 }, () => ['cancelled', 'expired']),
  );
  expect(broker.cash()).toBe(0);
  expect(() => broker.place(order([], 1, null), market({}))).toThrow();
});

const tick = fc.integer({ min: 1, max: 400 }).map((n) => n / 100);
const someQuote = fc
  .record({ bid: tick, width: tick, bidSize: fc.nat(9), askSize: fc.nat(9) })
  .map(({ bid, width, ...sizes }) => ({ bid, ask: bid + width, ...sizes }));
const ratio = fc.constantFrom(-2, -1, 1, 2);
const someOrder = fc
  .record({ near: ratio, far: ratio, quantity: fc.integer({ min: 1, max: 9 }), limit: fc.option(tick) })
  .map(({ near, far, quantity, limit }) => order([call(80, near), call(85, far)], quantity, limit));

test('whatever comes: never beyond limit, size or quantity; cash, fees and positions agree; a kept state goes on alike', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ order: fc.option(someOrder), near: someQuote, far: someQuote }), { maxLength: 12 }),
      (moments) => {
        const broker = new PaperBroker();
        let twin = new PaperBroker();
        moments.forEach(({ order: request, near, far }, i) => {
          const quotes = market({ 80: near, 85: far }, NOW + i * 1000);
          twin = new PaperBroker(paperBrokerState.parse(JSON.parse(JSON.stringify(twin.state()))));
          for (const b of [broker, twin]) {
            b.meet(quotes);
            if (request) b.place(request, quotes);
          }
          expect(twin.state()).toEqual(broker.state());
          for (const o of broker.orders()) {
            for (const f of o.fills.filter((f) => f.instant === quotes.instant)) {
              o.legs.forEach((leg, n) => {
                const q = n === 0 ? near : far;
                expect(f.legPrices[n]).toBe(leg.ratio > 0 ? q.ask : q.bid);
                expect(f.quantity * Math.abs(leg.ratio)).toBeLessThanOrEqual(leg.ratio > 0 ? q.askSize : q.bidSize);
              });
            }
          }
        });
        const held = { 80: 0, 85: 0 };
        let cash = 0;
        for (const o of broker.orders()) {
          expect(o.filled).toBe(o.fills.reduce((sum, f) => sum + f.quantity, 0));
          expect(o.filled).toBeLessThanOrEqual(o.quantity);
          expect(o.state === 'filled').toBe(o.filled === o.quantity);
          for (const f of o.fills) {
            if (o.limit !== null) expect(f.price).toBeLessThanOrEqual(o.limit + 1e-9);
            cash -= f.price * f.quantity * 100 + f.fee;
          }
          held[80] += o.legs[0].ratio * o.filled;
          held[85] += o.legs[1].ratio * o.filled;
        }
        expect(broker.cash()).toBeCloseTo(cash, 6);
        const positions = Object.fromEntries(broker.positions().map((p) => [p.leg.strike, p.quantity]));
        expect({ 80: 0, 85: 0, ...positions }).toEqual(held);
      },
    ),
    { numRuns: 150 },
  );
});
