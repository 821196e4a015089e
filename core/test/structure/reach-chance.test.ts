import fc from 'fast-check';
import { expect, test } from 'vitest';
import { finishAbove, lawAbove, priceLaw, touchProbability } from '../../src/probability/index.ts';
import { reachChance } from '../../src/structure/index.ts';
import { type Smile, sviRawSmile, VolatilitySurface } from '../../src/surface/index.ts';
import { flat } from './skewed-market.ts';

const SPOT = 100;
/** A seeded source of numbers on [0, 1). */
function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
const prices = Float64Array.from({ length: 801 }, (_, i) => 40 + 0.2 * i);
/** The underlying itself, bought at its price: a profit that is the price's distance, on every day. */
const distance = (days: number) => Float64Array.from({ length: 801 * (days + 1) }, (_, i) => prices[i % 801] - SPOT);
const daysOf = (smile: Smile, count: number, drift: number) =>
  Array.from({ length: count }, (_, i) => {
    const years = ((i + 1) / count) * smile.timeToExpiry;
    const share: Smile = flat(0.25, years);
    const forward = SPOT * Math.exp(drift * years);
    return { law: priceLaw({ smile: share, forward, range: [-20, 20] }), variance: 0.25 ** 2 * years };
  });

test('of one volatility it is the closed form of touching, however few the steps; first of two adds up to either', () => {
  for (const [drift, years, count] of [
    [0.02, 30 / 365, 30],
    [-0.05, 90 / 365, 13],
    [0, 0.5, 2],
  ]) {
    const law = { spot: SPOT, timeToExpiry: years, volatility: 0.25, drift };
    const [target, limit] = [8, -6];
    const found = reachChance({
      ...{ days: daysOf(flat(0.25, years), count, drift), price: SPOT, prices, profits: distance(count) },
      ...{ target, limit, paths: 20_000, random: seeded(7) },
    });
    const near = (drawn: { chance: number; standardError: number } | undefined, told: number) => {
      expect(drawn?.standardError).toBeLessThan(0.005);
      expect(Math.abs((drawn?.chance ?? NaN) - told)).toBeLessThan(4 * (drawn?.standardError ?? NaN));
    };
    near(found.target, touchProbability(law, { upper: 108 }));
    near(found.limit, touchProbability(law, { lower: 94 }));
    if (count < 10) continue;
    const { targetFirst, limitFirst } = found;
    const either = (targetFirst?.chance ?? NaN) + (limitFirst?.chance ?? NaN);
    expect(Math.abs(either - touchProbability(law, { lower: 94, upper: 108 }))).toBeLessThan(0.015);
    // What looking at the days alone would find is a good deal less.
    expect(found.target?.chance).toBeGreaterThan(1.5 * finishAbove(law, 108));
  }
});

test('a lasting smile: no less than to end there; nearer is likelier; the same seed, the same', () => {
  const smile = sviRawSmile({ a: 0.0012, b: 0.02, rho: -0.6, m: 0.01, sigma: 0.06 }, 30 / 365);
  const surface = new VolatilitySurface([{ smile, forward: SPOT }], { spot: SPOT });
  const days = Array.from({ length: 30 }, (_, i) => {
    const years = (i + 1) / 365;
    const own = surface.smileAt(years);
    return {
      law: priceLaw({
        smile: own,
        forward: SPOT,
        range: [-0.2 * Math.sqrt((i + 1) / 30), 0.15 * Math.sqrt((i + 1) / 30)],
      }),
      variance: own.totalVariance(0),
    };
  });
  const asked = (o: { target?: number; limit?: number }) =>
    reachChance({ days, price: SPOT, prices, profits: distance(30), ...o, paths: 6000, random: seeded(3) });
  fc.assert(
    fc.property(fc.double({ min: 1, max: 7, noNaN: true }), (away) => {
      const [up, down] = [asked({ target: away }).target, asked({ limit: -away }).limit];
      if (!up || !down) throw new Error('nothing');
      const { law } = days[29];
      for (const [drawn, ends] of [
        [up, lawAbove(law, SPOT + away)],
        [down, 1 - lawAbove(law, SPOT - away)],
      ] as const)
        expect(drawn.chance).toBeGreaterThan(ends - 4 * drawn.standardError);
      expect(asked({ target: away + 1 }).target?.chance).toBeLessThan(up.chance);
      expect(asked({ target: away }).target).toEqual(up);
    }),
    { numRuns: process.env.SOAK ? 12 : 4 },
  );
});

test('reached from either side, and in the middle; what is reached now is certain; bad input is refused', () => {
  const days = daysOf(flat(0.25, 0.1), 10, 0);
  // A hat of one at the price now that shrinks: its middle is reached at the end alone, from anywhere.
  const hat = Float64Array.from({ length: 801 * 11 }, (_, i) => {
    const row = Math.floor(i / 801);
    return (row / 10) * Math.max(0, 1 - Math.abs(prices[i % 801] - SPOT) / 10);
  });
  const ends = (low: number, high: number) => lawAbove(days[9].law, low) - lawAbove(days[9].law, high);
  const found = reachChance({
    days,
    price: SPOT,
    prices,
    profits: hat,
    target: 0.95,
    paths: 20_000,
    random: seeded(5),
  });
  const { chance = NaN, standardError = NaN } = found.target ?? {};
  // Half a unit either way at the end, a little more during the last day.
  expect(chance).toBeGreaterThan(ends(99.5, 100.5) - 4 * standardError);
  expect(found.limit).toBeUndefined();
  expect(found.targetFirst).toBeUndefined();
  const certain = reachChance({
    days,
    price: SPOT,
    prices,
    profits: distance(10),
    target: -1,
    paths: 10,
    random: seeded(1),
  });
  expect(certain.target).toEqual({ chance: 1, standardError: 0 });
  const bad = { days, price: SPOT, prices, profits: distance(10), paths: 10, random: seeded(1) };
  expect(() => reachChance(bad)).toThrow(RangeError);
  expect(() => reachChance({ ...bad, target: 1, profits: distance(3) })).toThrow(/days/);
});
