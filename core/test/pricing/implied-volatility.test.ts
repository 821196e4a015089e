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

test("a time value of a fraction of the price's last digit still has its volatility, in a batch too", () => {
  // Found on another draw of implied-volatility.json by its generator (mpmath, 45 digits on the exact doubles).
  const rows = [
    {
      forward: 1.0771,
      strike: 6.3847,
      years: 0.168432,
      discountFactor: 0.9909237139,
      price: 5.25942670389564,
      volatility: 0.5572207157700437,
    },
    {
      forward: 57.107,
      strike: 878.25,
      years: 0.00316323,
      discountFactor: 1.000002274,
      price: 821.1448672791821,
      volatility: 6.263766875669987,
    },
    {
      forward: 4.8007,
      strike: 57.24,
      years: 0.00350818,
      discountFactor: 0.9998337758,
      price: 52.430583319308944,
      volatility: 5.385949773286535,
    },
  ];
  for (const row of rows) {
    const result = impliedVolatility({ ...row, side: 'put', timeToExpiry: row.years });
    expect(result.ok && Math.abs(result.volatility / row.volatility - 1)).toBeLessThan(1e-10);
    const below = impliedVolatility({ ...row, side: 'put', timeToExpiry: row.years, price: 0.999 * row.price });
    expect(below).toEqual({ ok: false, reason: 'below-intrinsic' });
  }
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
