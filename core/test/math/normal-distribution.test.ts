import fc from 'fast-check';
import { expect, test } from 'vitest';
import { normalCdf, normalCdfOverDensity, normalDensity, normalQuantile } from '../../src/math/index.ts';
import { loadReference } from '../reference/load.ts';

interface Row {
  z: number;
  cdf: number;
  density: number;
  cdfOverDensity: number;
}
const { cases, quantiles } = loadReference<Row, { quantiles: { probability: number; z: number }[] }>(
  'normal-distribution.json',
);
/** A few units in the last place. */
const ULPS = 1.2e-15;

test('distribution, density and their quotient agree with mpmath to full precision, tails included', () => {
  for (const c of cases) {
    expect(Math.abs(normalCdf(c.z) / c.cdf - 1), `cdf ${c.z}`).toBeLessThan(ULPS);
    expect(Math.abs(normalDensity(c.z) / c.density - 1), `density ${c.z}`).toBeLessThan(ULPS);
    expect(Math.abs(normalCdfOverDensity(c.z) / c.cdfOverDensity - 1), `quotient ${c.z}`).toBeLessThan(ULPS);
  }
});

test('the quantile agrees with mpmath from 1e-300 to 0.999', () => {
  for (const { probability, z } of quantiles) {
    expect(Math.abs(normalQuantile(probability) - z), `${probability}`).toBeLessThanOrEqual(ULPS * (1 + Math.abs(z)));
  }
});

test('tables print N(-1) 0.1587, N(-2) 0.0228, N(-1.6449) 0.0500', () => {
  expect(normalCdf(-1).toFixed(4)).toBe('0.1587');
  expect(normalCdf(-2).toFixed(4)).toBe('0.0228');
  expect(normalCdf(-1.6449).toFixed(4)).toBe('0.0500');
});

test('the distribution rises and is symmetric', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -37, max: 37, noNaN: true }),
      fc.double({ min: 1e-6, max: 3, noNaN: true }),
      (z, step) => {
        expect(normalCdf(z + step)).toBeGreaterThanOrEqual(normalCdf(z));
        expect(Math.abs(normalCdf(z) + normalCdf(-z) - 1)).toBeLessThan(4e-16);
      },
    ),
  );
});

test('the quantile refuses what is no probability', () => {
  expect(() => normalQuantile(-0.1)).toThrow(RangeError);
  expect(() => normalQuantile(NaN)).toThrow(RangeError);
  expect(normalQuantile(0)).toBe(-Infinity);
  expect(normalQuantile(1)).toBe(Infinity);
});
