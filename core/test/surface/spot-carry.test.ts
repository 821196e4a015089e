import fc from 'fast-check';
import { expect, test } from 'vitest';
import { impliedDrift, impliedYield, spotForward } from '../../src/surface/index.ts';

const dividend = fc.record({
  time: fc.double({ min: 0.001, max: 2.5, noNaN: true }),
  amount: fc.double({ min: 0, max: 8, noNaN: true }),
});

test('the drift that a forward implies makes that forward', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -0.6, max: 0.4, noNaN: true }),
      fc.array(dividend, { maxLength: 6 }),
      fc.double({ min: 0.01, max: 2, noNaN: true }),
      (drift, dividends, time) => {
        const forward = spotForward(100, drift, dividends, time);
        fc.pre(forward > 5);
        const found = impliedDrift(forward, 100, dividends, time);
        expect(Math.abs(spotForward(100, found, dividends, time) / forward - 1)).toBeLessThan(1e-11);
      },
    ),
  );
});

test('yield and cash together make the forward that the pricer means', () => {
  // S e^((r - q) T) - A e^((r - q) (T - t)), by hand: 100 e^0.02 - 3 e^0.015
  const forward = spotForward(100, 0.02, [{ time: 0.25, amount: 3 }], 1);
  expect(forward).toBeCloseTo(102.02013400267558 - 3 * 1.0151130646157189, 12);
  const f = { forward, discountFactor: Math.exp(-0.05) };
  expect(impliedYield(f, { spot: 100, dividends: [{ time: 0.25, amount: 3 }] }, 1)).toBeCloseTo(0.03, 12);
});

test('dividends worth more than the spot have no drift', () => {
  expect(impliedDrift(1, 1, [{ time: 0.5, amount: 1e9 }], 1)).toSatisfy((v: number) => Number.isNaN(v) || v > 5);
});
