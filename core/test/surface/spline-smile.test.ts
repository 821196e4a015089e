import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { black76Price } from '../../src/pricing/index.ts';
import { butterflyArbitrage, outerRange } from '../../src/surface/arbitrage.ts';
import { smoothingSpline } from '../../src/surface/spline-smile.ts';
import { deriveSurface, smileVolatility, splineSmile } from '../../src/surface/index.ts';

describe('the smoothing spline', () => {
  const data = fc
    .record({
      gaps: fc.array(fc.double({ min: 0.005, max: 0.2, noNaN: true }), { minLength: 3, maxLength: 30 }),
      seed: fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 31, maxLength: 31 }),
      heavy: fc.array(fc.double({ min: 0.1, max: 10, noNaN: true }), { minLength: 31, maxLength: 31 }),
    })
    .map(({ gaps, seed, heavy }) => {
      const knots = gaps.reduce<number[]>((all, gap) => [...all, all[all.length - 1] + gap], [-0.4]);
      return { knots, values: knots.map((_, i) => 1 + 0.2 * seed[i]), weights: knots.map((_, i) => heavy[i]) };
    });

  test('without a penalty passes through the points, with a great one is the weighted straight line', () => {
    fc.assert(
      fc.property(data, ({ knots, values, weights }) => {
        const through = splineSmile(smoothingSpline(knots, values, weights, 0), 1);
        knots.forEach((k, i) => expect(through.totalVariance(k)).toBeCloseTo(values[i], 9));
        const line = smoothingSpline(knots, values, weights, 1e8).totalVariance;
        const total = weights.reduce((a, b) => a + b, 0);
        const mean = (of: number[]) => of.reduce((sum, v, i) => sum + weights[i] * v, 0) / total;
        const [x, y] = [mean(knots), mean(values)];
        const slope = mean(knots.map((k, i) => (k - x) * (values[i] - y))) / mean(knots.map((k) => (k - x) ** 2));
        knots.forEach((k, i) => expect(line[i]).toBeCloseTo(y + slope * (k - x), 4));
      }),
    );
  });

  test('slope and curvature are the derivatives of total variance, which is smooth across its knots and ends', () => {
    fc.assert(
      fc.property(data, fc.double({ min: -0.1, max: 1.1, noNaN: true }), ({ knots, values, weights }, share) => {
        const spline = smoothingSpline(knots, values, weights, 1e-3);
        const smile = splineSmile(spline, 1);
        // Where the second derivative is a straight line a difference quotient errs by the third, which jumps at a knot.
        const third = Math.max(
          ...spline.curvature.slice(1).map((c, i) => Math.abs(c - spline.curvature[i]) / (knots[i + 1] - knots[i])),
        );
        const k = knots[0] + share * (knots[knots.length - 1] - knots[0]);
        const h = 1e-5;
        const [low, high] = [smile.totalVariance(k - h), smile.totalVariance(k + h)];
        const rounding = 1e-9;
        expect(Math.abs((high - low) / (2 * h) - smile.slope(k))).toBeLessThan(h * h * third + rounding);
        const change = (smile.slope(k + h) - smile.slope(k - h)) / (2 * h);
        expect(Math.abs(change - smile.curvature(k))).toBeLessThan(h * third + rounding);
      }),
    );
  });
});

test('two bumps before an event, which raw SVI cannot bend to, are fitted inside the market and free of arbitrage', () => {
  // The underlying ends near one of two levels: a mixture of two lognormals, free of arbitrage by construction.
  const timeToExpiry = 7 / 365;
  const ups = [0.5, 0.5];
  const centers = [91, 109];
  const strikes = Float64Array.from({ length: 45 }, (_, i) => 78 + i);
  const price = (side: 'call' | 'put', strike: number) =>
    centers.reduce((sum, forward, i) => {
      const volatility = 0.3;
      return sum + ups[i] * black76Price({ side, forward, strike, timeToExpiry, volatility, discountFactor: 1 });
    }, 0);
  const half = 0.02;
  const quote = (side: 'call' | 'put', sign: number) => strikes.map((k) => Math.max(0, price(side, k) + sign * half));
  const surface = deriveSurface({
    spot: 100,
    slices: [
      {
        timeToExpiry,
        strikes,
        callBid: quote('call', -1),
        callAsk: quote('call', 1),
        putBid: quote('put', -1),
        putAsk: quote('put', 1),
      },
    ],
  });
  const [{ smile, isArbitrageFree, verdicts }] = surface.expiries;
  if (smile?.description.model !== 'spline') throw new Error(`the fit is ${smile?.description.model}`);
  expect([...verdicts.call, ...verdicts.put].filter((v) => v === 'stale')).toEqual([]);
  expect(smile.insideMarket).toBeGreaterThanOrEqual(0.95);
  expect(isArbitrageFree).toBe(true);
  expect(butterflyArbitrage(smile.smile, outerRange(smile.range))).toEqual([]);
  // The middle is dear and the two levels are cheap.
  const at = (strike: number) => smileVolatility(smile.smile, Math.log(strike / 100));
  expect(at(100)).toBeGreaterThan(at(91) + 0.01);
  expect(at(100)).toBeGreaterThan(at(109) + 0.01);
});
