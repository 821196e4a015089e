import fc from 'fast-check';
import { expect, test } from 'vitest';
import { quantile } from '../../src/math/index.ts';
import {
  dailyBars,
  overlapSpread,
  type PremiumReading,
  premiumByBand,
  volatilityCone,
} from '../../src/volatility/index.ts';
import { normalNumbers, uniformNumbers } from './normal-numbers.ts';

/** Bars of a random walk of 20 % a year, closes only. */
function walk(seed: number, sessions: number) {
  const normal = normalNumbers(seed);
  let price = 100;
  return dailyBars(
    Array.from({ length: sessions }, () => {
      price *= Math.exp((0.2 / Math.sqrt(252)) * normal());
      return { open: price, high: price, low: price, close: price };
    }),
  );
}

test('the cone of a random walk: corrected quantiles hold what independent windows do, raw ones too little', () => {
  // The truth at 42 sessions by 4,000 windows that share nothing; cones of two years hold twelve such windows each.
  const ends = (cones: { p10: number; p90: number; p50: number; spread: number }[], share: 1 | -1) =>
    cones.reduce((sum, c) => {
      const edge = share > 0 ? c.p90 : c.p10;
      return sum + edge / cones.length;
    }, 0);
  const o = { estimator: 'close-to-close', horizons: [42] } as const;
  const truth = Float64Array.from({ length: 4000 }, (_, i) => {
    const { close } = walk(5000 + i, 43);
    const returns = Array.from({ length: 42 }, (_r, j) => Math.log(close[j + 1] / close[j]));
    const mean = returns.reduce((s, r) => s + r / 42, 0);
    return Math.sqrt((252 * returns.reduce((s, r) => s + (r - mean) ** 2, 0)) / 41);
  }).sort();
  const cones = Array.from({ length: 300 }, (_, i) => volatilityCone(walk(i, 504), o)[0]);
  const [low, high] = [ends(cones, -1), ends(cones, 1)];
  const share = (to: number) => truth.filter((v) => v < to).length / truth.length;
  // 10 and 90 % are meant.
  expect(share(low)).toBeGreaterThan(0.07);
  expect(share(low)).toBeLessThan(0.13);
  expect(share(high)).toBeGreaterThan(0.87);
  expect(share(high)).toBeLessThan(0.93);
  const raw = cones.map((c) => c.p50 + (c.p90 - c.p50) / c.spread).reduce((s, v) => s + v / cones.length, 0);
  expect(share(raw)).toBeLessThan(share(high));
});

test('a cone has only horizons of eight windows that do not overlap, ordered quantiles, raw ends', () => {
  const cone = volatilityCone(walk(1, 504), { estimator: 'yang-zhang', horizons: [5, 21, 62, 63, 126] });
  // 503 sessions with a close before hold eight windows of 62 and not of 63.
  expect(cone.map((c) => c.sessions)).toEqual([5, 21, 62]);
  for (const c of cone) {
    const order = [c.p10, c.p25, c.p50, c.p75, c.p90];
    expect(order).toEqual([...order].sort((a, b) => a - b));
    expect(c.spread).toBeGreaterThan(1);
    expect(c.max).toBeGreaterThan(c.min);
  }
  // Hodges & Tompkins (2002), the factor for windows of 21 among 484: 1 / (1 - 21/484 + 440 / (3 x 484^2)) = 1.0447.
  expect(overlapSpread(21, 484) ** 2).toBeCloseTo(1 / (1 - 21 / 484 + 440 / (3 * 484 ** 2)), 12);
});

test('quantiles are linear between sorted values', () => {
  expect(quantile([1, 2, 3, 5], 0.5)).toBe(2.5);
  expect(quantile([1, 2, 3, 5], 0.9)).toBeCloseTo(4.4, 12);
  expect(quantile([7], 0.3)).toBe(7);
  expect(quantile([], 0.5)).toBeNaN();
});

test('what came after, by band: counts, means, the worst, and cases that share no session', () => {
  const readings: PremiumReading[] = Array.from({ length: 100 }, (_, i) => ({
    implied: 0.3,
    later: i < 50 ? 0.25 : 0.32,
    percentile: i < 50 ? 0.9 : 0.1,
  }));
  readings[99] = { implied: 0.3, later: NaN, percentile: 0.1 };
  const bands = premiumByBand(readings, { horizon: 21, uniform: uniformNumbers(1) });
  const [lowest, , , , highest] = bands;
  expect(highest).toMatchObject({ sessions: 50, independent: 3, positive: 1 });
  expect(highest.mean).toBeCloseTo(0.05, 12);
  expect(lowest).toMatchObject({ sessions: 49, independent: 3, positive: 0 });
  expect(lowest.worst).toBeCloseTo(-0.02, 12);
  expect(bands[2]).toMatchObject({ sessions: 0, independent: 0, interval: undefined });
  expect(bands[2].mean).toBeNaN();
  // The highest share stands in the last band.
  const [, , , , last] = premiumByBand([{ implied: 0.2, later: 0.1, percentile: 1 }], {
    horizon: 1,
    uniform: uniformNumbers(1),
  });
  expect(last.sessions).toBe(1);
});

test('the interval by blocks is wider than one that takes overlapping sessions for independent, and holds the mean', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
      const normal = normalNumbers(seed);
      const shocks = Array.from({ length: 500 }, () => 0.05 * normal());
      const readings = Array.from({ length: 400 }, (_, i) => ({
        implied: 0.25,
        later: 0.25 + shocks.slice(i, i + 21).reduce((s, v) => s + v / 21, 0),
        percentile: 0.5,
      }));
      const [, , band] = premiumByBand(readings, { horizon: 21, uniform: uniformNumbers(seed) });
      const [low, high] = band.interval ?? [NaN, NaN];
      const own = readings.map((r) => r.implied - r.later);
      const deviation = Math.sqrt(own.reduce((s, v) => s + (v - band.mean) ** 2 / own.length, 0));
      expect(low).toBeLessThan(band.mean);
      expect(high).toBeGreaterThan(band.mean);
      expect(high - low).toBeGreaterThan(2 * 1.96 * (deviation / Math.sqrt(400)));
    }),
    { numRuns: 10 },
  );
});
