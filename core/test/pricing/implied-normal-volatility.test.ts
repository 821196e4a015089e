import fc from 'fast-check';
import { expect, test } from 'vitest';
import { bachelierGreeks, bachelierPrice, impliedNormalVolatility, type Side } from '../../src/pricing/index.ts';
import { loadReference } from '../reference/load.ts';

interface Row {
  side: Side;
  forward: number;
  strike: number;
  years: number;
  rate: number;
  normalVolatility: number;
  price: number;
  vega: number;
}

test('the normal volatility of every price of bachelier.json (mpmath) comes back to what rounding allows', () => {
  const { cases } = loadReference<Row>('bachelier.json');
  const misses: string[] = [];
  let counted = 0;
  for (const c of cases) {
    const discountFactor = Math.exp(-c.rate * c.years);
    // One rounding each of price, forward, strike and discount factor, seen through the vega.
    const rounding = 2.3e-16 * (c.price + discountFactor * (Math.abs(c.forward) + Math.abs(c.strike)));
    const attainable = rounding / (c.vega * c.normalVolatility);
    if (!(attainable < 1e-3)) continue;
    counted++;
    const result = impliedNormalVolatility({ ...c, timeToExpiry: c.years, discountFactor });
    const miss = result.ok ? Math.abs(result.volatility / c.normalVolatility - 1) : Infinity;
    if (!(miss <= Math.max(1e-13, 4 * attainable))) misses.push(`${c.side} ${c.strike}: ${miss} (${attainable})`);
  }
  expect(misses).toEqual([]);
  expect(counted).toBeGreaterThan(40);
});

test('out-of-the-money values down to 1e-250 come back', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.001, max: 33, noNaN: true }), (score) => {
      const o = { side: 'call', forward: 0, strike: 1, timeToExpiry: 1, rate: 0, normalVolatility: 1 / score } as const;
      const result = impliedNormalVolatility({ ...o, discountFactor: 1, price: bachelierPrice(o) });
      expect(result.ok && Math.abs(result.volatility * score - 1)).toBeLessThan(1e-13);
      expect(bachelierGreeks(o).price).toBe(bachelierPrice(o));
    }),
  );
});

test('prices without a normal volatility say why', () => {
  const o = { side: 'put', forward: 95, strike: 100, timeToExpiry: 0.5, discountFactor: 0.98 } as const;
  const reasonOf = (price: number, change = {}) => {
    const result = impliedNormalVolatility({ ...o, ...change, price });
    return result.ok ? result.volatility : result.reason;
  };
  expect(reasonOf(5, { discountFactor: 1 })).toBe(0);
  expect(reasonOf(4)).toBe('below-intrinsic');
  expect(reasonOf(NaN)).toBe('not-a-number');
  expect(reasonOf(Infinity)).toBe('above-bound');
  expect(reasonOf(6, { timeToExpiry: 0 })).toBe('above-bound');
  expect(() => reasonOf(6, { discountFactor: 0 })).toThrow('discountFactor');
});
