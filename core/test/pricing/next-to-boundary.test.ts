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

test('on grids gamma is never negative beside a boundary, nor far from what the pricing equation has there', () => {
  // Where exercise and holding are worth the same nothing changes with time: a^2 gamma / 2 = r V - m delta at the boundary.
  const puts: Option[] = [
    {
      side: 'put',
      exercise: 'american',
      model: 'normal',
      underlying: 0,
      strike: 100,
      timeToExpiry: 1,
      rate: 0.05,
      volatility: 20,
    },
    {
      side: 'put',
      exercise: 'american',
      model: 'spot',
      underlying: 0,
      strike: 100,
      timeToExpiry: 5,
      rate: -0.012,
      dividendYield: -0.06,
      volatility: 0.2,
    },
  ];
  for (const [n, from] of [64, 67].entries()) {
    for (let underlying = from; underlying < from + 5; underlying += 0.43) {
      const { gamma, delta } = optionGreeks({ ...puts[n], underlying }, 'default');
      expect(gamma).toBeGreaterThanOrEqual(0);
      expect(delta).toBeGreaterThanOrEqual(-1);
      // 2 r (K - B) / sigma^2 of the normal model, B about 65; the other's likewise.
      if (gamma > 0) expect(Math.abs(gamma / [0.0091, 0.0305][n] - 1), String(underlying)).toBeLessThan(0.15);
    }
  }
});
