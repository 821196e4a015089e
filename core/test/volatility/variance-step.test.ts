import { expect, test } from 'vitest';
import { ewmaVarianceStep, garchVarianceStep } from '../../src/volatility/index.ts';

test('repeated steps without news end where the model says: nowhere for the average, at the long-run variance for GARCH', () => {
  const garch = { omega: 2e-6, alpha: 0.13, beta: 0.86 };
  let variance = 1e-3;
  // A day whose squared return is the variance brings no news.
  for (let day = 0; day < 5000; day++)
    variance = garchVarianceStep({ variance, dailyReturn: Math.sqrt(variance) }, garch);
  expect(variance / (garch.omega / (1 - garch.alpha - garch.beta))).toBeCloseTo(1, 9);
  expect(ewmaVarianceStep({ variance: 4e-4, dailyReturn: 0.02 }, 0.94)).toBeCloseTo(4e-4, 15);
  expect(() => ewmaVarianceStep({ variance: 1e-4, dailyReturn: 0 }, 1.1)).toThrow('lambda');
  expect(() => garchVarianceStep({ variance: -1, dailyReturn: 0 }, garch)).toThrow('variance');
  expect(() => garchVarianceStep({ variance: 1e-4, dailyReturn: NaN }, garch)).toThrow('dailyReturn');
});
