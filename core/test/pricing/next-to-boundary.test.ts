import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type Option, optionGreeks, optionPrice } from '../../src/pricing/index.ts';

/* Greeks close above the exercise boundary, where the kernel of the premium is narrow, against the finest level. */

const market = fc.record({
  rate: fc.double({ min: 0.01, max: 0.1, noNaN: true }),
  dividendYield: fc.double({ min: 0, max: 0.09, noNaN: true }),
  volatility: fc.double({ min: 0.1, max: 0.6, noNaN: true }),
  timeToExpiry: fc.double({ min: 0.05, max: 3, noNaN: true }),
  /** Share of the spot above the boundary */
  distance: fc.constantFrom(2e-4, 1e-3, 5e-3, 0.02, 0.06),
  isFuture: fc.boolean(),
});

/** Highest spot at which the put is exercised at once, on the finest level. */
function boundaryOf(of: (underlying: number) => Option): number {
  let low = 0.01;
  let high = 100;
  for (let step = 0; step < 34; step++) {
    const middle = 0.5 * (low + high);
    if (optionPrice(of(middle), 'exact') - (100 - middle) < 1e-11) low = middle;
    else high = middle;
  }
  return high;
}

test('gamma, theta, charm and vega hold next to the boundary at every level', () => {
  fc.assert(
    fc.property(market, ({ rate, dividendYield, volatility, timeToExpiry, distance, isFuture }) => {
      const of = (underlying: number): Option => {
        const common = {
          side: 'put',
          exercise: 'american',
          underlying,
          strike: 100,
          timeToExpiry,
          rate,
          volatility,
        } as const;
        return isFuture ? { ...common, model: 'futures' } : { ...common, model: 'spot', dividendYield };
      };
      const option = of(boundaryOf(of) * (1 + distance));
      const exact = optionGreeks(option, 'exact');
      for (const level of ['fast', 'default'] as const) {
        const found = optionGreeks(option, level);
        // What the boundary's own error leaves: a hundredth, or a millionth of the strike a year.
        const holds = (name: 'gamma' | 'theta' | 'charm' | 'vega', least: number) =>
          expect(Math.abs(found[name] - exact[name]), `${name} at ${level}`).toBeLessThanOrEqual(
            Math.max(0.01 * Math.abs(exact[name]), least),
          );
        holds('gamma', 1e-4);
        holds('charm', 1e-4);
        expect(found.gamma).toBeGreaterThan(0);
        expect(found.theta).toBeLessThanOrEqual(0);
        holds('theta', 1e-4);
        holds('vega', 1e-4);
      }
    }),
    { numRuns: process.env.SOAK ? 200 : 20 },
  );
});
