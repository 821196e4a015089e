import fc from 'fast-check';
import { expect, test } from 'vitest';
import { black76Price, type Side } from '../../src/pricing/index.ts';
import { butterflyArbitrage, calendarArbitrage, outerRange } from '../../src/surface/arbitrage.ts';
import { clearedSvi } from '../../src/surface/clear-svi.ts';
import { fitSmile } from '../../src/surface/fit-smile.ts';
import { deriveSurface, durrleman, type Slice, smileVolatility, sviRawSmile } from '../../src/surface/index.ts';

/** European quotes on given volatilities, `half` wide on both sides of their value. */
function quotesOn(volatilityAt: (k: number) => number, timeToExpiry: number, half: (price: number) => number): Slice {
  const strikes = Float64Array.from({ length: 41 }, (_, i) => 60 + 2 * i);
  const price = (side: Side) =>
    strikes.map((strike) =>
      black76Price({
        side,
        forward: 100,
        strike,
        timeToExpiry,
        volatility: volatilityAt(Math.log(strike / 100)),
        discountFactor: 1,
      }),
    );
  const [call, put] = [price('call'), price('put')];
  return {
    timeToExpiry,
    strikes,
    callBid: call.map((c) => Math.max(0, c - half(c))),
    callAsk: call.map((c) => c + half(c)),
    putBid: put.map((p) => Math.max(0, p - half(p))),
    putAsk: put.map((p) => p + half(p)),
  };
}

test('the published counterexample is fitted without butterfly arbitrage, within 5 % of the least error possible', () => {
  // A. Vogt's parameters as printed in Gatheral & Jacquier (2014), section 3; from memory of the publication.
  const start = { a: -0.041, b: 0.1331, rho: 0.306, m: 0.3586, sigma: 0.4153 };
  const vogt = sviRawSmile(start, 1);
  // Least errors among arbitrage-free parameters, found by 60,000 random steps of falling size from our fit.
  for (const [reach, least] of [
    [0.6, 0.000940264],
    [1, 0.004219249],
    [1.4, 0.006043587],
  ]) {
    const points = Array.from({ length: 41 }, (_, i) => {
      const k = -reach + (2 * reach * i) / 40;
      const volatility = smileVolatility(vogt, k);
      return {
        index: i,
        side: 'call' as const,
        k,
        volatility,
        bid: volatility - 0.001,
        ask: volatility + 0.001,
        halfWidth: 0.001,
      };
    });
    const smile = fitSmile(points, 1);
    if (!smile) throw new Error('no smile');
    expect(smile.unconstrained?.rmse).toBeLessThan(1e-6);
    expect(smile.unconstrained?.butterfly.length).toBeGreaterThan(0);
    expect(smile.isButterflyFree).toBe(true);
    for (let k = -1.4 * reach; k <= 1.4 * reach; k += 0.003) {
      expect(durrleman(smile.smile, k), `at ${k}`).toBeGreaterThan(-1e-4);
    }
    expect(smile.rmse).toBeLessThan(1.05 * least);
  }
});

test('two expiries whose quotes cross are fitted so that total variance never falls', () => {
  const near = quotesOn(
    (k) => 0.3 + 0.25 * k * k,
    0.25,
    () => 0.05,
  );
  // At its wings the farther expiry is a little under the nearer in total variance.
  const far = quotesOn(
    (k) => 0.27 - 0.08 * k * k,
    0.33,
    () => 0.05,
  );
  const surface = deriveSurface({ spot: 100, slices: [near, far] });
  const [a, b] = surface.expiries;
  if (!a.smile || !b.smile) throw new Error('no smiles');
  expect(b.smile.unconstrained?.calendar.length).toBeGreaterThan(0);
  expect(surface.expiries.every((e) => e.isArbitrageFree)).toBe(true);
  const [low, high] = [Math.max(a.smile.range[0], b.smile.range[0]), Math.min(a.smile.range[1], b.smile.range[1])];
  for (let k = low; k <= high; k += 0.005) {
    const [w, before] = [b.smile.smile.totalVariance(k), a.smile.smile.totalVariance(k)];
    expect(w, `at ${k}`).toBeGreaterThan(before * (1 - 1e-3));
  }
});

test('an expiry whose quotes belong to another is found, left out of the term structure, and bounds no other', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 4 }), fc.constantFrom(1.5, 1.8, 0.6), (wrong, factor) => {
      const times = [0.05, 0.12, 0.2, 0.3, 0.45, 0.7];
      const level = (i: number) => (i === wrong ? factor : 1) * (0.2 + 0.03 * Math.sqrt(times[i]));
      const surface = deriveSurface({
        spot: 100,
        slices: times.map((t, i) =>
          quotesOn(
            (k) => level(i) - 0.05 * k,
            t,
            (p) => Math.max(0.01, 0.01 * p),
          ),
        ),
      });
      // Half the volatility is half the total variance before it and after: the fewest that can go is one.
      expect(surface.expiries.flatMap((e, i) => (e.outlier ? [i] : []))).toEqual([wrong]);
      expect(surface.expiries[wrong].outlier?.expected).toBeCloseTo(0.2 + 0.03 * Math.sqrt(times[wrong]), 2);
      expect(surface.term).toHaveLength(times.length - 1);
      expect(surface.expiries.every((e) => e.outlier !== undefined || e.isArbitrageFree)).toBe(true);
    }),
    { numRuns: 12 },
  );
});

// Found by drawing parameters: each smile is free of butterflies, and the same raised by as much as the nearer one asks is not.
test('a smile that must be raised above the nearer one is free of butterflies after it as well', () => {
  const found = [
    {
      p: {
        a: -0.1301116327792788,
        b: 0.5464742851257324,
        rho: -0.10017855167388912,
        m: -0.48730772733688354,
        sigma: 0.239690710067749,
      },
      lift: 0.041059310895263934,
      timeToExpiry: 0.3476937007904053,
      range: [-0.6427606105804443, 0.2610320568084717],
    },
    {
      p: {
        a: -0.024686160046417775,
        b: 0.22367136001586913,
        rho: 0.233386406302452,
        m: 0.3396569490432739,
        sigma: 0.12116761302947998,
      },
      lift: 0.02513571445092566,
      timeToExpiry: 0.11683829545974732,
      range: [-0.26627302169799805, 0.3759600639343261],
    },
    {
      p: {
        a: -0.026446355138998366,
        b: 0.5361005020141602,
        rho: 0.1975775241851807,
        m: 0.5517873764038086,
        sigma: 0.050804401397705076,
      },
      lift: 0.028670336332200466,
      timeToExpiry: 1.2769570541381836,
      range: [-0.2820054292678833, 0.5698818445205689],
    },
  ] as const;
  for (const {
    p,
    lift,
    timeToExpiry,
    range: [low, high],
  } of found) {
    const range: [number, number] = [low, high];
    const raised = sviRawSmile({ ...p, a: p.a + lift }, timeToExpiry);
    expect(butterflyArbitrage(sviRawSmile(p, timeToExpiry), outerRange(range))).toEqual([]);
    expect(butterflyArbitrage(raised, outerRange(range)).length).toBeGreaterThan(0);
    const near = { smile: { ...raised, timeToExpiry: 0.9 * timeToExpiry }, range };
    const points = [{ volatility: Math.sqrt((p.a + lift) / timeToExpiry) || 0.3 }];
    const smile = sviRawSmile(clearedSvi(p, { points, timeToExpiry, range, near }), timeToExpiry);
    expect(butterflyArbitrage(smile, outerRange(range))).toEqual([]);
    expect(calendarArbitrage(near.smile, smile, range)).toEqual([]);
  }
});

test('a level says why it is one', () => {
  const point = (k: number) => ({
    index: 0,
    side: 'call' as const,
    k,
    volatility: 0.2,
    bid: 0.19,
    ask: 0.21,
    halfWidth: 0.01,
  });
  expect(fitSmile([-0.1, 0, 0.1].map(point), 0.5)).toMatchObject({
    levelReason: 'too-few-points',
    description: { model: 'flat' },
  });
  const wild = [-0.2, -0.1, 0, 0.1, 0.2].map((k) => ({ ...point(k), volatility: 1e200 }));
  expect(fitSmile(wild, 0.5)).toMatchObject({ levelReason: 'not-converged' });
});
