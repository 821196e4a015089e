import { black76Price } from '@umwelt/core/pricing';
import { expect, test } from 'vitest';
import { displaced, heston, mertonJumps, mixture, sabr } from '../../src/laboratory/laws/index.ts';

const call = (volatility: number, timeToExpiry: number) =>
  100 * black76Price({ side: 'call', forward: 1, strike: 1, timeToExpiry, volatility, discountFactor: 1 });

test('prices by the characteristic function are those of the literature', () => {
  // Fang, F. & Oosterlee, C. W. (2008). A novel pricing method for European options based on Fourier-cosine series expansions.
  // SIAM Journal on Scientific Computing 31(2), 826-848, section 5.2; parameters and values from memory.
  const law = heston({ now: 0.0175, mean: 0.0398, reversion: 1.5768, noise: 0.5751, correlation: -0.5711 });
  expect(call(law.volatility(0, 1), 1)).toBeCloseTo(5.78515545, 6);
  expect(call(law.volatility(0, 10), 10)).toBeCloseTo(22.318945791, 6);
});

test('stochastic variance with hardly any noise and jumps is the sum over jumps', () => {
  const jumps = { perYear: 1.5, meanLog: -0.08, deviationLog: 0.1 };
  const summed = mertonJumps({ volatility: 0.2, ...jumps });
  const integrated = heston({ now: 0.04, mean: 0.04, reversion: 1, noise: 1e-3, correlation: 0 }, jumps);
  for (const time of [7 / 365, 30 / 365, 1]) {
    for (const deviations of [-3, -1, 0, 1, 2]) {
      const k = 0.2 * deviations * Math.sqrt(time);
      expect(integrated.volatility(k, time)).toBeCloseTo(summed.volatility(k, time), 5);
    }
  }
});

test('the SABR expansion is a lognormal without noise, and has the slope of its correlation', () => {
  const flat = sabr({ alpha: 0.3, beta: 1, rho: 0.2, nu: 1e-9 });
  expect(flat.volatility(0.3, 2)).toBeCloseTo(0.3, 8);
  // Hagan et al. (2002), equation 3.1a: d volatility / d ln K at the money is (rho nu - (1 - beta) alpha) / 2 for short times.
  const law = sabr({ alpha: 0.25, beta: 0.7, rho: -0.4, nu: 0.6 });
  const slope = (law.volatility(1e-4, 1e-6) - law.volatility(-1e-4, 1e-6)) / 2e-4;
  expect(slope).toBeCloseTo(0.5 * (-0.4 * 0.6 - 0.3 * 0.25), 5);
});

test('a mixture of equal parts and a displacement by nothing are lognormal', () => {
  const part = { forward: 1, volatility: 0.25 };
  const same = mixture([
    { weight: 0.3, ...part },
    { weight: 0.7, ...part },
  ]);
  for (const k of [-0.2, 0, 0.15]) {
    expect(same.volatility(k, 0.5)).toBeCloseTo(0.25, 9);
    expect(displaced({ shift: 0, volatility: 0.25 }).volatility(k, 0.5)).toBeCloseTo(0.25, 9);
  }
  expect(() => mixture([{ weight: 1, forward: 1.1, volatility: 0.2 }])).toThrow(RangeError);
  // All of the fall of a displaced smile: towards a normal law the volatility falls by half its level times ln K (Rubinstein 1983).
  const law = displaced({ shift: 50, volatility: 0.25 / 51 });
  const slope = (law.volatility(0.01, 0.1) - law.volatility(-0.01, 0.1)) / 0.02;
  expect(slope).toBeCloseTo(-0.5 * 0.25, 2);
});
