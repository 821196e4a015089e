import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
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
    { numRuns: process.env.SOAK ? 200 : 10 },
  );
});

describe('on grids', () => {
  const common = { side: 'put', exercise: 'american', strike: 100 } as const;
  const options: [string, number[], (underlying: number) => Option][] = [
    [
      'the normal model',
      [65.5, 65.8, 66.2, 66.9, 67.3],
      (underlying) => ({ ...common, underlying, model: 'normal', timeToExpiry: 1, rate: 0.05, volatility: 20 }),
    ],
    [
      'two boundaries',
      [68.8, 69.3, 70, 71],
      (underlying) => ({
        ...common,
        underlying,
        model: 'spot',
        timeToExpiry: 5,
        rate: -0.012,
        dividendYield: -0.06,
        volatility: 0.2,
      }),
    ],
    [
      'a cash dividend ahead',
      [77.2, 78, 79, 81],
      (underlying) => ({
        ...common,
        underlying,
        model: 'spot',
        timeToExpiry: 0.5,
        rate: 0.05,
        volatility: 0.25,
        dividends: [{ time: 0.3, amount: 1 }],
      }),
    ],
  ];

  test.each(options)('%s: gamma beside the boundary is that of the finest level within a hundredth', (_, spots, of) => {
    for (const spot of spots) {
      const exact = optionGreeks(of(spot), 'exact');
      expect(exact.gamma).toBeGreaterThan(0);
      const found = optionGreeks(of(spot), 'default');
      expect(Math.abs(found.gamma / exact.gamma - 1), String(spot)).toBeLessThan(0.01);
      expect(Math.sign(found.theta)).toBe(Math.sign(exact.theta));
    }
  });

  test.each(options)(
    '%s: gamma is never negative, delta never beyond exercise, and what is exercised has no theta',
    (_, spots, of) => {
      for (let spot = spots[0] - 6; spot < spots[0] + 8; spot += 0.41) {
        for (const level of ['fast', 'default'] as const) {
          const { gamma, delta, theta } = optionGreeks(of(spot), level);
          expect(gamma).toBeGreaterThanOrEqual(0);
          expect(delta).toBeGreaterThanOrEqual(-1 - 1e-9);
          if (gamma === 0) expect(Math.abs(theta)).toBe(0);
        }
      }
    },
  );
});
