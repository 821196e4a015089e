import fc from 'fast-check';
import { expect, test } from 'vitest';
import { black76Price } from '../../src/pricing/index.ts';
import { priceLaw } from '../../src/probability/index.ts';
import { structureGrid, surfaceStructure, type ValuedLeg } from '../../src/structure/index.ts';
import { flat } from './skewed-market.ts';

/* A share is held over its dividends: the holder gets them, who owes it pays them and the borrow. */

const market = fc.record({
  spot: fc.double({ min: 5, max: 500, noNaN: true }),
  rate: fc.double({ min: -0.02, max: 0.12, noNaN: true }),
  years: fc.double({ min: 0.05, max: 2, noNaN: true }),
  volatility: fc.double({ min: 0.08, max: 0.9, noNaN: true }),
  strike: fc.double({ min: 0.7, max: 1.4, noNaN: true }),
  paid: fc.array(
    fc.record({
      at: fc.double({ min: 0.01, max: 0.99, noNaN: true }),
      share: fc.double({ max: 0.03, min: 0, noNaN: true }),
    }),
    { maxLength: 6 },
  ),
});

/** European options at theory's prices; F = (S − Σ A D(t)) / D(T). */
function conversion({
  spot,
  rate,
  years,
  volatility,
  strike: share,
  paid,
}: typeof market extends fc.Arbitrary<infer M> ? M : never) {
  const dividends = paid.map((d) => ({ time: d.at * years, amount: d.share * spot }));
  const factor = (t: number) => Math.exp(-rate * t);
  const worth = dividends.reduce((sum, d) => sum + d.amount * factor(d.time), 0);
  const forward = (spot - worth) / factor(years);
  const strike = share * spot;
  const smile = flat(volatility, years);
  const option = (side: 'call' | 'put', quantity: number): ValuedLeg => {
    const price = black76Price({
      side,
      strike,
      forward,
      timeToExpiry: years,
      volatility,
      discountFactor: factor(years),
    });
    return { kind: 'option', side, strike, years, quantity, price, value: price };
  };
  const held = (quantity: number, borrow = 0): ValuedLeg => ({
    ...{ kind: 'underlying', quantity, price: spot, income: { dividends, borrow } },
  });
  const law = priceLaw({ smile, forward, range: [-20, 20] });
  const expiries = [{ years, forward, discountFactor: factor(years), law, american: undefined }];
  return { spot, years, strike, dividends, factor, expiries, option, held, law };
}

test('long call, short put and short share make the same at every price: interest on the strike and on each dividend', () => {
  fc.assert(
    fc.property(market, fc.array(fc.double({ min: 0.01, max: 5, noNaN: true }), { minLength: 3 }), (given, shares) => {
      const m = conversion(given);
      const found = surfaceStructure([m.option('call', 1), m.option('put', -1), m.held(-1)], { expiries: m.expiries });
      if (!found.ok) throw new Error(found.reason);
      const interest = m.dividends.reduce((sum, d) => sum + d.amount * (1 - m.factor(d.time)), 0);
      const made = -m.strike * (1 - m.factor(m.years)) - interest;
      const near = 1e-11 * (m.spot + m.strike);
      for (const share of shares) expect(Math.abs(found.structure.profit(share * m.spot) - made)).toBeLessThan(near);
      for (const end of [found.structure.maxProfit, -(found.structure.maxLoss ?? NaN)])
        expect(Math.abs((end ?? NaN) - made)).toBeLessThan(near);
    }),
  );
});

test('a covered call at theory expects what interest brings: on its cost, less on the dividends until they come', () => {
  fc.assert(
    fc.property(market, (given) => {
      const m = conversion(given);
      const legs = [m.option('call', -1), m.held(1)];
      const found = surfaceStructure(legs, { expiries: m.expiries });
      if (!found.ok) throw new Error(found.reason);
      const later = m.dividends.reduce((sum, d) => sum + d.amount * (1 - m.factor(d.time) / m.factor(m.years)), 0);
      const expected = found.structure.cost * (1 / m.factor(m.years) - 1) + later;
      expect(Math.abs((found.structure.expectedProfit ?? NaN) - expected)).toBeLessThan(1e-11 * (m.spot + m.strike));
      const [low] = found.structure.breakEvens;
      if (low !== undefined) expect(Math.abs(found.structure.profit(low))).toBeLessThan(1e-9 * m.spot);
    }),
  );
});

test('each dividend counts from its day on, for the holder and against who owes; that one pays the borrow by the day, too', () => {
  const m = conversion({
    spot: 95,
    rate: 0.04,
    years: 0.5,
    volatility: 0.25,
    strike: 1,
    paid: [{ at: 0.4, share: 0.02 }],
  });
  const [{ time, amount }] = m.dividends;
  const of = (quantity: number, years: number) => {
    const day = { years, forward: m.spot, discountFactor: 1, law: m.law };
    const found = structureGrid([m.held(quantity, 1.9), m.option('call', 1)], {
      ...{ expiries: m.expiries, days: [day], prices: Float64Array.of(m.spot) },
    });
    const alone = structureGrid([m.option('call', 1)], {
      ...{ expiries: m.expiries, days: [day], prices: Float64Array.of(m.spot) },
    });
    return found.ok && alone.ok ? found.grid.profit[0] - alone.grid.profit[0] : NaN;
  };
  expect(of(3, time - 1e-6)).toBeCloseTo(0, 9);
  expect(of(3, time)).toBeCloseTo(3 * amount, 9);
  expect(of(-2, time - 1e-6)).toBeCloseTo(-2 * 1.9 * (time - 1e-6), 9);
  expect(of(-2, 0.5)).toBeCloseTo(-2 * (amount + 1.9 * 0.5), 9);
});
