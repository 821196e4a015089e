import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { normalQuantile } from '../../src/math/index.ts';
import { forwardDelta } from '../../src/pricing/index.ts';
import {
  describedSmile,
  logMoneynessAtDelta,
  type Smile,
  smileMeasures,
  smileVolatility,
  sviRawSmile,
  volatilityAtDelta,
} from '../../src/surface/index.ts';

/** Raw SVI smiles of ordinary steepness: total variance rises by less than a fifth of log-moneyness. */
const smiles = fc
  .record({
    days: fc.integer({ min: 1, max: 900 }),
    level: fc.double({ min: 0.02, max: 0.5, noNaN: true }),
    wing: fc.double({ min: 0.01, max: 0.1, noNaN: true }),
    rho: fc.double({ min: -0.9, max: 0.9, noNaN: true }),
    shift: fc.double({ min: -0.1, max: 0.1, noNaN: true }),
    sigma: fc.double({ min: 0.02, max: 0.3, noNaN: true }),
  })
  .map(({ days, level, wing, rho, shift, sigma }): Smile => {
    const years = days / 365;
    return sviRawSmile({ a: level ** 2 * years, b: wing * years, rho, m: shift, sigma }, years);
  });
const deltas = fc.double({ min: 0.03, max: 0.6, noNaN: true });

/** Absolute undiscounted forward delta of an option on a smile. */
const deltaAt = (smile: Smile, side: 'call' | 'put', k: number) =>
  Math.abs(
    forwardDelta({
      side,
      forward: 1,
      strike: Math.exp(k),
      timeToExpiry: smile.timeToExpiry,
      volatility: smileVolatility(smile, k),
    }),
  );

describe('the strike of a delta', () => {
  test('has that delta at the volatility of its own strike, on either side', () => {
    fc.assert(
      fc.property(smiles, deltas, (smile, delta) => {
        for (const side of ['call', 'put'] as const) {
          const k = logMoneynessAtDelta(smile, side, delta);
          // The root is known to 1e-12, and delta changes by up to 0.4 a deviation.
          const deviation = Math.sqrt(smile.totalVariance(k));
          expect(Math.abs(deltaAt(smile, side, k) - delta)).toBeLessThan(1e-12 / deviation + 1e-13);
          expect(volatilityAtDelta(smile, side, delta)).toBe(smileVolatility(smile, k));
        }
      }),
    );
  });

  test('without a smile is that of the closed form: half the variance less the quantile in deviations', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 1.5, noNaN: true }), deltas, (volatility, delta) => {
        const smile = describedSmile({ model: 'flat', parameters: { volatility } }, 0.3);
        const deviation = volatility * Math.sqrt(0.3);
        const call = 0.5 * deviation ** 2 - deviation * normalQuantile(delta);
        expect(logMoneynessAtDelta(smile, 'call', delta)).toBeCloseTo(call, 10);
        const put = 0.5 * deviation ** 2 - deviation * normalQuantile(1 - delta);
        expect(logMoneynessAtDelta(smile, 'put', delta)).toBeCloseTo(put, 10);
      }),
    );
  });

  test('is the one nearest to the money where a steep wing comes back to the delta farther out', () => {
    // A flat smile up to a bend beyond its quotes, from where total variance rises by twice log-moneyness.
    const parameters = { a: 0.0028, b: 1, rho: 0.9999, m: 0.169, sigma: 0.002 };
    const smile = sviRawSmile(parameters, 29 / 365);
    const near = logMoneynessAtDelta(smile, 'call', 0.25);
    expect(deltaAt(smile, 'call', near)).toBeCloseTo(0.25, 10);
    expect(near).toBeLessThan(0.05);
    expect(deltaAt(smile, 'call', 0.4)).toBeGreaterThan(0.25);
    expect(smileMeasures(smile).butterfly25).toBeCloseTo(0, 3);
  });

  // Found by a fresh seed: a low level under a steep wing puts a small delta many deviations at the money away.
  test('is found however far out a steep wing takes it', () => {
    const smile = sviRawSmile({ a: 0.0007, b: 0.18, rho: 0.9, m: 0, sigma: 0.02 }, 1.83);
    const k = logMoneynessAtDelta(smile, 'call', 0.03);
    expect(k).toBeGreaterThan(15 * Math.sqrt(smile.totalVariance(0)));
    expect(deltaAt(smile, 'call', k)).toBeCloseTo(0.03, 10);
  });

  test('is none where the smile never has that delta, or has no variance', () => {
    // Total variance of twice log-moneyness and more keeps d1 from falling below 0.
    const steep = sviRawSmile({ a: 0.5, b: 1, rho: 0.9999, m: -2, sigma: 0.01 }, 1);
    expect(logMoneynessAtDelta(steep, 'call', 0.1)).toBeNaN();
    expect(volatilityAtDelta(steep, 'call', 0.1)).toBeNaN();
    const empty = sviRawSmile({ a: NaN, b: 0.1, rho: 0, m: 0, sigma: 0.1 }, 1);
    expect(logMoneynessAtDelta(empty, 'put', 0.25)).toBeNaN();
  });
});

test('measures are level, difference and mean of the volatilities at the deltas, slope and bend those of the curve', () => {
  fc.assert(
    fc.property(smiles, (smile) => {
      const m = smileMeasures(smile);
      const at = (side: 'call' | 'put', delta: number) => volatilityAtDelta(smile, side, delta);
      expect(m.atm).toBe(smileVolatility(smile, 0));
      expect(m.riskReversal25).toBeCloseTo(at('call', 0.25) - at('put', 0.25), 14);
      expect(m.butterfly10).toBeCloseTo((at('call', 0.1) + at('put', 0.1)) / 2 - m.atm, 14);
      // Differences over 2h err by h^2 / 6 times the third derivative, those of second order by h^2 / 12 times the fourth. Of
      // w those are at most b / sigma^2 and 3 b / sigma^3; volatility divides them by 2 sqrt(w T), 0.04 a year and more.
      const h = 1e-4;
      const v = (k: number) => smileVolatility(smile, k);
      const third = 0.1 / 0.02 ** 2 / 0.04;
      expect(Math.abs((v(h) - v(-h)) / (2 * h) - m.slope)).toBeLessThan((h * h * third) / 6);
      const bend = (v(h) - 2 * v(0) + v(-h)) / (h * h);
      expect(Math.abs(bend - m.curvature)).toBeLessThan((h * h * 3 * third) / 0.02 / 12 + 1e-7);
    }),
  );
});
