import fc from 'fast-check';
import { expect, test } from 'vitest';
import { borrowedSmile, fittedShift, smileVolatility, sviRawSmile } from '../../src/surface/index.ts';

const DONOR = sviRawSmile({ a: 0.004, b: 0.05, rho: -0.5, m: 0.01, sigma: 0.1 }, 0.1);
const distance = fc.double({ min: -0.3, max: 0.3, noNaN: true });

test("the whole smile is the donor's at the same log-moneyness, moved by shift and ratio", () => {
  fc.assert(
    fc.property(distance, fc.double({ min: -0.02, max: 0.05, noNaN: true }), (k, shift) => {
      const smile = borrowedSmile(DONOR, 0.4, { kind: 'total', atm: NaN, shift, logRatio: 0.02 });
      expect(smileVolatility(smile, k)).toBeCloseTo(smileVolatility(DONOR, k + 0.02) + shift, 12);
    }),
  );
});

test("the shape is the donor's by standardized distance, on the borrower's level", () => {
  fc.assert(
    fc.property(
      fc.double({ min: -2.5, max: 2.5, noNaN: true }),
      fc.double({ min: 0.1, max: 0.6, noNaN: true }),
      (z, atm) => {
        const smile = borrowedSmile(DONOR, 0.4, { kind: 'shape', atm, shift: 0, logRatio: 0 });
        expect(smileVolatility(smile, 0)).toBeCloseTo(atm, 12);
        const donorAtm = smileVolatility(DONOR, 0);
        const own = smileVolatility(smile, z * atm * Math.sqrt(0.4)) / atm;
        expect(own).toBeCloseTo(smileVolatility(DONOR, z * donorAtm * Math.sqrt(0.1)) / donorAtm, 10);
      },
    ),
  );
});

test('its derivatives are those of its total variance, also when it is borrowed on', () => {
  const once = borrowedSmile(DONOR, 0.4, { kind: 'shape', atm: 0.3, shift: 0.01, logRatio: 0.01 });
  const twice = borrowedSmile(once, 0.2, { kind: 'total', atm: NaN, shift: -0.02, logRatio: 0 });
  const h = 1e-4;
  for (const smile of [once, twice]) {
    for (const k of [-0.2, -0.05, 0, 0.1]) {
      const w = (x: number) => smile.totalVariance(x);
      expect(smile.slope(k)).toBeCloseTo((w(k + h) - w(k - h)) / (2 * h), 6);
      expect(smile.curvature(k)).toBeCloseTo((w(k + h) - 2 * w(k) + w(k - h)) / (h * h), 4);
    }
  }
});

test('the fitted shift is the one that made the quotes', () => {
  const quotes = [-0.1, 0, 0.05].map((k, i) => ({
    logMoneyness: k,
    volatility: smileVolatility(DONOR, k) + 0.013,
    halfWidth: 0.001 * (i + 1),
  }));
  expect(fittedShift(DONOR, quotes)).toBeCloseTo(0.013, 12);
  expect(fittedShift(DONOR, [])).toBe(0);
});
