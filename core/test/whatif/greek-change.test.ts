import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Option, optionGreeks, optionPrice, priceBounds } from '../../src/pricing/index.ts';
import { escrowedPrice, explainGreekChange, GREEK_CAUSES, type GreekCause } from '../../src/whatif/index.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const option: fc.Arbitrary<Option> = fc
  .record({
    side: fc.constantFrom('call', 'put'),
    exercise: fc.constantFrom('european', 'american'),
    model: fc.constantFrom('spot', 'futures'),
    underlying: number(70, 130),
    strike: number(80, 120),
    timeToExpiry: number(0.05, 2),
    rate: number(0, 0.08),
    dividendYield: number(0, 0.06),
    volatility: number(0.1, 0.6),
  } as const)
  .map((o) => ({ ...o, dividendYield: o.model === 'spot' ? o.dividendYield : 0 }));

describe('the change of Greeks between two states', () => {
  test('is the sum of its parts, for every Greek and any two contracts', () => {
    fc.assert(
      fc.property(option, option, (from, to) => {
        const { from: before, to: after, parts } = explainGreekChange(from, to, 'fast');
        for (const name of ['price', 'delta', 'gamma', 'theta', 'vega', 'rho'] as const) {
          const sum = GREEK_CAUSES.reduce((total, cause) => total + parts[name][cause], 0);
          const size = 1 + Math.abs(before[name]) + Math.abs(after[name]);
          expect(Math.abs(sum - (after[name] - before[name])), name).toBeLessThan(1e-9 * size);
        }
        expect(after.delta).toBe(optionGreeks(to, 'fast').delta);
      }),
      { numRuns: 30 },
    );
  });

  test('is told by the one cause that there is, with nothing left over', () => {
    const from: Option = {
      ...{ side: 'put', exercise: 'american', model: 'spot', underlying: 100, strike: 100 },
      ...{
        timeToExpiry: 0.5,
        rate: 0.04,
        dividendYield: 0.01,
        volatility: 0.2,
        dividends: [{ time: 0.2, amount: 1.5 }],
      },
    };
    const changes: Record<Exclude<GreekCause, 'rest'>, Partial<Option>> = {
      underlying: { underlying: 104 },
      // The dividend lies behind the new expiry: that is what time does.
      time: { timeToExpiry: 0.15, dividends: undefined },
      volatility: { volatility: 0.25 },
      rate: { rate: 0.05 },
      dividends: { dividends: [{ time: 0.3, amount: 2 }] },
      contract: { strike: 95 },
    };
    for (const [cause, change] of Object.entries(changes)) {
      const { parts } = explainGreekChange(from, { ...from, ...change });
      for (const told of GREEK_CAUSES) {
        if (told === cause) expect(Math.abs(parts.delta[told]), cause).toBeGreaterThan(1e-4);
        else expect(Math.abs(parts.delta[told]), `${cause} ${told}`).toBeLessThan(1e-12);
      }
    }
    // Gamma is what the underlying does to delta, to first order.
    const near = explainGreekChange(from, { ...from, underlying: 100.01 }, 'fine');
    expect(near.parts.delta.underlying / 0.01).toBeCloseTo(near.from.gamma, 3);
  });
});

describe('prices lie between their bounds', () => {
  test('whatever the volatility, and a European one reaches both', () => {
    fc.assert(
      fc.property(option, (o) => {
        const { lower, upper } = priceBounds(o);
        const price = optionPrice(o, 'fast');
        expect(price).toBeGreaterThanOrEqual(lower - 1e-7 * o.underlying);
        expect(price).toBeLessThanOrEqual(upper + 1e-7 * o.underlying);
        if (o.exercise === 'american') return;
        expect(optionPrice({ ...o, volatility: 0 })).toBeCloseTo(lower, 9);
        expect(optionPrice({ ...o, volatility: 60 / Math.sqrt(o.timeToExpiry) })).toBeCloseTo(upper, 9);
      }),
      { numRuns: 60 },
    );
    const call: Option = {
      ...{ side: 'call', exercise: 'european', model: 'spot', underlying: 100, strike: 90 },
      ...{ timeToExpiry: 1, rate: 0.05, volatility: 0.2 },
    };
    expect(priceBounds(call).lower).toBeCloseTo(14.38935, 4);
    expect(priceBounds({ ...call, model: 'normal' }).upper).toBe(Infinity);
  });
});

describe('escrowed dividends', () => {
  // Hull, J. C., Options, Futures, and Other Derivatives (9th ed. 2015, section 15.12, example 15.9), from memory: printed 3.67.
  const printed: Option = {
    ...{ side: 'call', exercise: 'european', model: 'spot', underlying: 40, strike: 40 },
    ...{ timeToExpiry: 0.5, rate: 0.09, volatility: 0.3 },
    dividends: [
      { time: 2 / 12, amount: 0.5 },
      { time: 5 / 12, amount: 0.5 },
    ],
  };

  test('give the worked example of the textbook, less than where the whole underlying is volatile', () => {
    expect(escrowedPrice(printed).toFixed(2)).toBe('3.67');
    expect(optionPrice(printed)).toBeGreaterThan(escrowedPrice(printed) + 0.01);
  });

  test('hold parity and are nothing special without dividends; all of the underlying cannot be paid out', () => {
    const put = escrowedPrice({ ...printed, side: 'put' });
    const escrow = 0.5 * (Math.exp(-0.09 / 6) + Math.exp((-0.09 * 5) / 12));
    expect(escrowedPrice(printed) - put).toBeCloseTo(40 - escrow - 40 * Math.exp(-0.045), 10);
    expect(escrowedPrice({ ...printed, dividends: undefined })).toBe(optionPrice({ ...printed, dividends: undefined }));
    expect(() => escrowedPrice({ ...printed, dividends: [{ time: 0.1, amount: 41 }] })).toThrow(/leave nothing/);
  });
});
