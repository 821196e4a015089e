import fc from 'fast-check';
import { expect, test } from 'vitest';
import { black76Price, black76Vega, impliedVolatility, type Side } from '../../src/pricing/index.ts';
import { loadReference } from '../reference/load.ts';

interface Row {
  label: string;
  side: Side;
  forward: number;
  strike: number;
  years: number;
  discountFactor: number;
  price: number | string;
  volatility: number;
  attainableAllInputs: number;
  violates: string;
}
const { cases, invalid } = loadReference<Row, { invalid: Row[] }>('implied-volatility.json');
const invert = (c: Row) => impliedVolatility({ ...c, timeToExpiry: c.years, price: Number(c.price) });

test('every attainable volatility of implied-volatility.json comes back to max(1e-13, 4 x attainable)', () => {
  expect(cases.length).toBeGreaterThan(250);
  const misses = cases.filter((c) => {
    const result = invert(c);
    const limit = Math.max(1e-13, 4 * c.attainableAllInputs);
    return !(result.ok && Math.abs(result.volatility / c.volatility - 1) <= limit);
  });
  expect(misses).toEqual([]);
});

test('impossible prices are refused with the bound that they break', () => {
  const expected: Record<string, string> = {
    'below-intrinsic': 'below-intrinsic',
    'negative-price': 'below-intrinsic',
    'above-upper-bound': 'above-bound',
    'equals-upper-bound': 'above-bound',
    'not-a-number': 'not-a-number',
    'no-time-left': 'above-bound',
  };
  for (const c of invalid) {
    const result = invert(c);
    if (c.violates === 'zero-price' || c.violates === 'equals-intrinsic') {
      expect(result).toEqual({ ok: true, volatility: 0 });
    } else expect(result, c.violates).toEqual({ ok: false, reason: expected[c.violates] });
  }
});

test('volatility to price to volatility is the identity where a tick of price still tells volatilities apart', () => {
  const contract = fc.record({
    side: fc.constantFrom<Side>('call', 'put'),
    forward: fc.double({ min: 0.01, max: 1e5, noNaN: true }),
    logMoneyness: fc.double({ min: -1.5, max: 1.5, noNaN: true }),
    timeToExpiry: fc.double({ min: 1 / 365, max: 5, noNaN: true }),
    volatility: fc.double({ min: 0.02, max: 2, noNaN: true }),
    discountFactor: fc.double({ min: 0.5, max: 1.1, noNaN: true }),
  });
  fc.assert(
    fc.property(contract, ({ logMoneyness, ...c }) => {
      const option = { ...c, strike: c.forward * Math.exp(logMoneyness) };
      const price = black76Price(option);
      // Rounding of the price, seen through vega, bounds what can come back.
      const attainable = (4 * Number.EPSILON * (c.forward + option.strike)) / black76Vega(option);
      fc.pre(attainable < 1e-6);
      const result = impliedVolatility({ ...option, price });
      expect(result.ok && Math.abs(result.volatility - c.volatility)).toBeLessThan(1e-12 + attainable);
    }),
  );
});
