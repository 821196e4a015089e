import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { black76Price } from '../../src/pricing/index.ts';
import {
  deriveSurface,
  forwardVolatility,
  smileMeasures,
  smileVolatility,
  type SurfaceSmile,
  sviRawSmile,
  termVolatility,
  VolatilitySurface,
} from '../../src/surface/index.ts';

/** Raw SVI smiles of one shape whose total variance grows in proportion to the time: free of calendar arbitrage. */
const expiries = fc
  .record({
    level: fc.double({ min: 0.02, max: 0.4, noNaN: true }),
    // Wings so flat that every delta is reached.
    slope: fc.double({ min: 0.01, max: 0.1, noNaN: true }),
    rho: fc.double({ min: -0.8, max: 0.8, noNaN: true }),
    shift: fc.double({ min: -0.1, max: 0.1, noNaN: true }),
    times: fc.uniqueArray(fc.integer({ min: 3, max: 900 }), { minLength: 1, maxLength: 6 }),
    drift: fc.double({ min: -0.05, max: 0.08, noNaN: true }),
  })
  .map(({ level, slope, rho, shift, times, drift }) =>
    times
      .sort((a, b) => a - b)
      .map((days): SurfaceSmile => {
        const years = days / 365;
        const parameters = { a: level * years, b: slope * years, rho, m: shift, sigma: 0.15 };
        return { smile: sviRawSmile(parameters, years), forward: 100 * Math.exp(drift * years) };
      }),
  );
const places = [-0.3, -0.05, 0, 0.1, 0.4];

/** A chain whose expiries all have one volatility, but for the variance of an event at 0.07 years. */
function surfaceWithEvent(variance: number) {
  const slices = [0.03, 0.06, 0.09, 0.15, 0.25, 0.5].map((timeToExpiry) => {
    const volatility = Math.sqrt(0.04 + (timeToExpiry > 0.07 ? variance / timeToExpiry : 0));
    const strikes = Float64Array.from({ length: 21 }, (_, i) => 80 + 2 * i);
    const quote = (side: 'call' | 'put', half: number) =>
      strikes.map((strike) =>
        Math.max(0, black76Price({ side, forward: 100, strike, timeToExpiry, volatility, discountFactor: 1 }) + half),
      );
    return {
      timeToExpiry,
      strikes,
      callBid: quote('call', -0.01),
      callAsk: quote('call', 0.01),
      putBid: quote('put', -0.01),
      putAsk: quote('put', 0.01),
    };
  });
  return deriveSurface({ spot: 100, slices, events: [{ time: 0.07 }] });
}

test('a scheduled event steps the surface when its variance shows, and not when it could as well be none', () => {
  const level = (surface: ReturnType<typeof surfaceWithEvent>, time: number) =>
    surface.volatility?.volatilityAt(time, { logMoneyness: 0 });
  const eventful = surfaceWithEvent(0.004);
  const [event] = eventful.events?.events ?? [];
  expect(event.ok && event.move).toBeCloseTo(Math.sqrt(0.004), 3);
  expect(level(eventful, 0.069)).toBeCloseTo(0.2, 3);
  expect(level(eventful, 0.071)).toBeCloseTo(Math.sqrt(0.04 + 0.004 / 0.071), 3);
  expect(eventful.atm30).toBeCloseTo(Math.sqrt(0.04 + 0.004 / (30 / 365)), 3);
  const calm = surfaceWithEvent(0);
  const [nothing] = calm.events?.events ?? [];
  expect(nothing.ok && nothing.interval[0]).toBe(0);
  for (const time of [0.05, 0.069, 0.071, 0.3]) expect(level(calm, time)).toBeCloseTo(0.2, 4);
});

describe('a volatility surface', () => {
  test('at an expiry is its smile, whichever way the place is told', () => {
    fc.assert(
      fc.property(expiries, fc.double({ min: 0.05, max: 0.95, noNaN: true }), (list, delta) => {
        const surface = new VolatilitySurface(list, { spot: 100 });
        for (const { smile, forward } of list) {
          const t = smile.timeToExpiry;
          const k = 0.7 * Math.sqrt(smile.totalVariance(0));
          const expected = smileVolatility(smile, k);
          expect(surface.volatilityAt(t, { logMoneyness: k })).toBe(expected);
          expect(surface.volatilityAt(t, { deviations: 0.7 })).toBeCloseTo(expected, 13);
          expect(surface.volatilityAt(t, { strike: forward * Math.exp(k) })).toBeCloseTo(expected, 12);
          // Call and put of one strike have deltas that add up to one.
          const call = surface.volatilityAt(t, { side: 'call', delta });
          expect(surface.volatilityAt(t, { side: 'put', delta: 1 - delta })).toBeCloseTo(call, 9);
          expect(surface.constantMaturity(t)).toEqual({ ...smileMeasures(smile), forward: surface.forwardAt(t) });
        }
      }),
    );
  });

  test('has total variance that grows with time at every log-moneyness, through events and beyond its ends', () => {
    const events = fc.array(
      fc.record({
        time: fc.double({ min: 0.001, max: 2.5, noNaN: true }),
        variance: fc.double({ min: 0, max: 0.02, noNaN: true }),
      }),
      { maxLength: 4 },
    );
    fc.assert(
      fc.property(expiries, events, (list, jumps) => {
        const surface = new VolatilitySurface(list, { spot: 100, events: jumps });
        const before = new Map<number, number>();
        for (let day = 1; day < 1000; day += 7) {
          const smile = surface.smileAt(day / 365);
          expect(smile.timeToExpiry).toBe(day / 365);
          for (const k of places) {
            const w = smile.totalVariance(k);
            expect(w).toBeGreaterThanOrEqual((before.get(k) ?? 0) * (1 - 1e-12));
            before.set(k, w);
          }
        }
      }),
    );
  });

  test('without events interpolates the level as the term structure does, and carries the forward evenly', () => {
    fc.assert(
      fc.property(expiries, fc.double({ min: 0.002, max: 3, noNaN: true }), (list, time) => {
        const surface = new VolatilitySurface(list, { spot: 100 });
        const term = list.map(({ smile }) => ({
          timeToExpiry: smile.timeToExpiry,
          volatility: smileVolatility(smile, 0),
        }));
        expect(surface.volatilityAt(time, { logMoneyness: 0 })).toBeCloseTo(termVolatility(term, time), 12);
        const rate = Math.log(list[0].forward / 100) / list[0].smile.timeToExpiry;
        expect(Math.log(surface.forwardAt(time) / 100)).toBeCloseTo(rate * time, 10);
      }),
    );
  });

  test('an event adds its whole variance at its instant, and what lies between two events grows evenly', () => {
    const smileOf = (variance: number, years: number) =>
      sviRawSmile({ a: variance, b: 1e-9, rho: 0, m: 0, sigma: 0.1 }, years);
    const list = [
      { smile: smileOf(0.004, 0.1), forward: 100 },
      { smile: smileOf(0.024, 0.3), forward: 100 },
    ];
    const surface = new VolatilitySurface(list, { spot: 100, events: [{ time: 0.2, variance: 0.012 }] });
    const w = (time: number) => surface.smileAt(time).totalVariance(0);
    expect(w(0.2) - w(0.2 - 1e-9)).toBeCloseTo(0.012, 8);
    // 0.02 between the expiries, 0.012 of it the event's: 0.004 on either side of it.
    expect(w(0.2 - 1e-9)).toBeCloseTo(0.008, 8);
    expect(w(0.25)).toBeCloseTo(0.022, 8);
    // The forward volatility of the ex-event stretch is that of the first expiry.
    const point = (time: number) => ({ timeToExpiry: time, volatility: Math.sqrt(w(time) / time) });
    expect(forwardVolatility(point(0.21), point(0.29))).toMatchObject({ ok: true });
    const ahead = forwardVolatility(point(0.21), point(0.29));
    expect(ahead.ok && ahead.volatility).toBeCloseTo(0.2, 6);
  });

  test('slope and curvature at the money are the derivatives of volatility', () => {
    fc.assert(
      fc.property(expiries, (list) => {
        const { smile } = list[0];
        const h = 1e-3;
        const [low, middle, high] = [-h, 0, h].map((k) => smileVolatility(smile, k));
        const { slope, curvature } = smileMeasures(smile);
        expect(slope).toBeCloseTo((high - low) / (2 * h), 4);
        expect(curvature).toBeCloseTo((high - 2 * middle + low) / (h * h), 2);
      }),
    );
  });

  test('refuses to be empty, out of order, or asked for no time at all', () => {
    const at = (years: number) => ({
      smile: sviRawSmile({ a: 0.04 * years, b: 0.1, rho: 0, m: 0, sigma: 0.1 }, years),
      forward: 100,
    });
    expect(() => new VolatilitySurface([], { spot: 100 })).toThrow('at least one expiry');
    expect(() => new VolatilitySurface([at(1), at(0.5)], { spot: 100 })).toThrow('ascend');
    const surface = new VolatilitySurface([at(1)], { spot: 100 });
    for (const time of [0, -1, NaN, Infinity]) expect(() => surface.smileAt(time)).toThrow('positive');
    expect(surface.volatilityAt(1, { side: 'call', delta: 1 })).toBeNaN();
  });
});
