import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type Option, optionImpliedVolatility } from '../../src/pricing/index.ts';

/* Prices a few rounding units over a discounted intrinsic value: which of them are equal to it, and which have a volatility. */

const market = fc.record({
  underlying: fc.double({ min: 20, max: 500, noNaN: true }),
  moneyness: fc.double({ min: 1.05, max: 3, noNaN: true }),
  rate: fc.double({ min: -0.05, max: 0.15, noNaN: true }),
  dividendYield: fc.double({ min: -0.02, max: 0.12, noNaN: true }),
  timeToExpiry: fc.double({ min: 0.01, max: 4, noNaN: true }),
});
const deepCall = (o: Pick<Option, 'underlying' | 'rate' | 'timeToExpiry'> & { moneyness: number }) => ({
  side: 'call' as const,
  exercise: 'european' as const,
  underlying: o.underlying,
  strike: o.underlying / o.moneyness,
  timeToExpiry: o.timeToExpiry,
  rate: o.rate,
});

test('intrinsic value, by whichever of the usual ways it is computed, gives 0', () => {
  fc.assert(
    fc.property(market, (m) => {
      const spot = { ...deepCall(m), model: 'spot' as const, dividendYield: m.dividendYield };
      const { underlying: S, strike: K, rate: r, timeToExpiry: T } = spot;
      const q = m.dividendYield;
      const D = Math.exp(-r * T);
      const ways = [S * Math.exp(-q * T) - K * D, D * (S * Math.exp((r - q) * T) - K)].filter((v) => v > 1e-6 * S);
      for (const price of ways) expect(optionImpliedVolatility(spot, price)).toEqual({ ok: true, volatility: 0 });
      const future = { ...deepCall(m), model: 'futures' as const };
      for (const price of [D * (S - K), (S - K) * Math.exp(-r * T)])
        expect(optionImpliedVolatility(future, price)).toEqual({ ok: true, volatility: 0 });
    }),
  );
});

test('without a rate nothing is rounded, and one bit above intrinsic is a volatility', () => {
  // 64 and 40 are exact, and so is their difference; the next number above it is a price of its own.
  const above = 24 * (1 + Number.EPSILON);
  for (const model of ['futures', 'spot'] as const) {
    const option = { ...deepCall({ underlying: 64, moneyness: 1.6, rate: 0, timeToExpiry: 0.5 }), model };
    expect(optionImpliedVolatility(option, 24)).toEqual({ ok: true, volatility: 0 });
    const found = optionImpliedVolatility(option, above);
    expect(found.ok && found.volatility).toBeGreaterThan(0.05);
  }
});

test('a hundred rounding units above intrinsic are a volatility at any rate', () => {
  fc.assert(
    fc.property(market, (m) => {
      const future = { ...deepCall(m), model: 'futures' as const };
      const { underlying: F, strike: K, rate: r, timeToExpiry: T } = future;
      const intrinsic = Math.exp(-r * T) * (F - K);
      const found = optionImpliedVolatility(future, intrinsic + 100 * Number.EPSILON * F);
      expect(found.ok && found.volatility > 0).toBe(true);
    }),
  );
});
