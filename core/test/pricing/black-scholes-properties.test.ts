import fc from 'fast-check';
import { expect, test } from 'vitest';
import { blackScholesMertonGreeks, blackScholesMertonPrice, type Side } from '../../src/pricing/index.ts';

const contract = fc.record({
  side: fc.constantFrom<Side>('call', 'put'),
  spot: fc.double({ min: 1, max: 1000, noNaN: true }),
  strike: fc.double({ min: 1, max: 1000, noNaN: true }),
  timeToExpiry: fc.double({ min: 0.01, max: 5, noNaN: true }),
  rate: fc.double({ min: -0.02, max: 0.12, noNaN: true }),
  dividendYield: fc.double({ min: -0.02, max: 0.12, noNaN: true }),
  volatility: fc.double({ min: 0.05, max: 1.5, noNaN: true }),
});

test('put-call parity holds for every contract', () => {
  fc.assert(
    fc.property(contract, (c) => {
      const gap = blackScholesMertonPrice({ ...c, side: 'call' }) - blackScholesMertonPrice({ ...c, side: 'put' });
      const fair = c.spot * Math.exp(-c.dividendYield * c.timeToExpiry) - c.strike * Math.exp(-c.rate * c.timeToExpiry);
      // Some hundred roundings of numbers this size.
      return Math.abs(gap - fair) <= 1e-13 * (c.spot + c.strike);
    }),
  );
});

test('prices lie between discounted intrinsic and the bound, and rise with volatility', () => {
  fc.assert(
    fc.property(contract, fc.double({ min: 0.001, max: 0.5, noNaN: true }), (c, rise) => {
      const legs = [
        c.spot * Math.exp(-c.dividendYield * c.timeToExpiry),
        c.strike * Math.exp(-c.rate * c.timeToExpiry),
      ];
      const [own, other] = c.side === 'call' ? legs : [legs[1], legs[0]];
      const price = blackScholesMertonPrice(c);
      const rounding = 1e-14 * (own + other);
      expect(price).toBeGreaterThanOrEqual(Math.max(0, own - other) - rounding);
      expect(price).toBeLessThanOrEqual(own + rounding);
      expect(blackScholesMertonPrice({ ...c, volatility: c.volatility + rise })).toBeGreaterThanOrEqual(
        price - rounding,
      );
    }),
  );
});

test('Greeks are the derivatives of the price', () => {
  const derivative = (
    c: Parameters<typeof blackScholesMertonPrice>[0],
    name: 'spot' | 'volatility' | 'timeToExpiry' | 'rate' | 'dividendYield' | 'strike',
  ) => {
    // Over the underlying and the strike the price bends within a deviation: the step is at most a hundredth of it.
    const isPrice = name === 'spot' || name === 'strike';
    const bend = isPrice ? Math.min(1, 10 * c.volatility * Math.sqrt(c.timeToExpiry)) : 1;
    const h = 1e-3 * bend * Math.max(Math.abs(c[name]), 0.01);
    const at = (n: number) => blackScholesMertonPrice({ ...c, [name]: c[name] + n * h });
    // Central difference of fourth order: error about h^4 of the price's scale.
    return (8 * (at(1) - at(-1)) - (at(2) - at(-2))) / (12 * h);
  };
  fc.assert(
    fc.property(contract, (c) => {
      const g = blackScholesMertonGreeks(c);
      const close = (actual: number, expected: number, scale: number) =>
        expect(Math.abs(actual - expected)).toBeLessThanOrEqual(2e-6 * scale);
      const size = c.spot + c.strike;
      close(g.delta, derivative(c, 'spot'), 1 + size / c.spot);
      close(g.dualDelta, derivative(c, 'strike'), 1 + size / c.strike);
      close(g.vega, derivative(c, 'volatility'), size * (1 + c.timeToExpiry));
      close(-g.theta, derivative(c, 'timeToExpiry'), size / c.timeToExpiry);
      close(g.rho, derivative(c, 'rate'), size * (1 + c.timeToExpiry));
      close(g.dividendRho, derivative(c, 'dividendYield'), size * (1 + c.timeToExpiry));
    }),
  );
});

test('with no time or no volatility the price is the discounted intrinsic value', () => {
  const c = { spot: 110, strike: 100, rate: 0.05, dividendYield: 0.01, timeToExpiry: 1, volatility: 0 };
  const fair = 110 * Math.exp(-0.01) - 100 * Math.exp(-0.05);
  expect(blackScholesMertonPrice({ ...c, side: 'call' })).toBeCloseTo(fair, 12);
  expect(blackScholesMertonPrice({ ...c, side: 'put' })).toBe(0);
  const expired = blackScholesMertonGreeks({ ...c, side: 'put', spot: 90, timeToExpiry: 0, volatility: 0.2 });
  expect(expired).toMatchObject({ price: 10, delta: -1, gamma: 0, vega: 0, probabilityItm: 1 });
});

test('arguments outside their range are refused by name', () => {
  const c = {
    side: 'call' as const,
    spot: 100,
    strike: 100,
    timeToExpiry: 1,
    rate: 0,
    dividendYield: 0,
    volatility: 0.2,
  };
  expect(() => blackScholesMertonPrice({ ...c, strike: -1 })).toThrow('strike');
  expect(() => blackScholesMertonPrice({ ...c, volatility: NaN })).toThrow('volatility');
  expect(() => blackScholesMertonGreeks({ ...c, timeToExpiry: -0.1 })).toThrow('timeToExpiry');
});
