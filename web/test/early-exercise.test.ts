import { optionPrice } from '@umwelt/core/pricing';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { chainRows } from '../src/lib/figures/chain-rows.ts';
import { earlyExercise, earlyExerciseAt, earlyExerciseBy } from '../src/lib/figures/early-exercise.ts';
import { strikeAtMoney } from '../src/lib/figures/pricer-defaults.ts';
import { spreadTheory } from '../src/lib/figures/spread-theory.ts';
import { volatilityInForce } from '../src/lib/figures/volatility-in-force.ts';
import { asOfContext, type AsOfContext } from '../src/lib/schema/as-of-context.ts';
import type { Picture } from '../src/lib/schema/picture.ts';
import { storeDemoBase } from '../src/lib/server/services/demo/demo-base.ts';
import { storeDemoToday } from '../src/lib/server/services/demo/demo-chains.ts';
import { loadPicture } from '../src/lib/server/services/picture.ts';
import { testDatabase } from './database.ts';

/* American theory under a volatility other than the market's: what early exercise is worth follows it. */

let store: Awaited<ReturnType<typeof testDatabase>>;
const pictures = new Map<string, Picture>();

beforeAll(async () => {
  store = await testDatabase();
  await storeDemoBase(store.connection);
  for (const symbol of ['VM50', 'VMQ', 'RYE', 'KELPA']) {
    await storeDemoToday(store.connection, symbol);
    const loaded = await loadPicture(store.connection.database, symbol, asOfContext.parse({}));
    if (!loaded.ok) throw new Error(loaded.reason);
    pictures.set(symbol, loaded.picture);
  }
});
afterAll(() => store.drop());

/** Of prices near 100: what mixing premiums may be off by. */
const CENT = 0.01;
const pictureOf = (symbol: string) => pictures.get(symbol) as Picture;
const typed = (picture: Picture, typedVolatility: number) =>
  volatilityInForce(picture, { volatilitySource: 'typed', typedVolatility });
const of = (picture: Picture, volatilitySource: AsOfContext['volatilitySource']) =>
  volatilityInForce(picture, { volatilitySource, typedVolatility: undefined });

test('options on futures are worth what the American price at that volatility says, at every strike', () => {
  let most = 0;
  for (const symbol of ['VMQ', 'RYE']) {
    const picture = pictureOf(symbol);
    for (const expiry of picture.expiries) {
      expect(expiry.exercisedInto).toEqual({ kind: 'future' });
      for (const volatility of [0.12, 0.45]) {
        for (const row of chainRows(expiry, { inForce: typed(picture, volatility), sides: 'both' })) {
          const contract = { side: row.side, exercise: 'american', model: 'futures', strike: row.strike } as const;
          const { forward: underlying, years: timeToExpiry, impliedRate: rate } = expiry;
          const price = optionPrice({ ...contract, underlying, timeToExpiry, rate, volatility });
          const miss = Math.abs((row.theory ?? NaN) - price) / underlying;
          most = Math.max(most, miss);
        }
      }
    }
  }
  // Half a cent on 100: premiums are mixed between a few strikes.
  expect(most).toBeLessThan(5e-5);
});

test('on the market smile it is what the quotes were freed of; a share is worth more with more volatility', () => {
  const picture = pictureOf('KELPA');
  let paid = 0;
  for (const expiry of picture.expiries) {
    expect(expiry.exercisedInto).toMatchObject({ kind: 'spot', spot: picture.price });
    const stored = { call: expiry.call.earlyExercise, put: expiry.put.earlyExercise };
    for (const source of ['smile', 'own'] as const) expect(earlyExercise(expiry, of(picture, source))).toEqual(stored);
    // Where the smile has the level of the money the two are of the same volatility.
    const atLevel = earlyExercise(expiry, of(picture, 'atm'));
    const [at, strike] = [expiry.strikes.indexOf(strikeAtMoney(expiry)), strikeAtMoney(expiry)];
    for (const side of ['call', 'put'] as const) {
      const gap = Math.abs(atLevel[side][at] - stored[side][at]) / picture.price;
      expect(gap, `${expiry.date} ${strike}`).toBeLessThan(3e-4);
    }
    const low = chainRows(expiry, { inForce: typed(picture, 0.1), sides: 'both' });
    const high = chainRows(expiry, { inForce: typed(picture, 0.3), sides: 'both' });
    low.forEach((row, i) => {
      // Premiums are solved for within about two deviations; farther in the money beside cash dividends they are mixed coarsely.
      if (Math.abs(Math.log(row.strike / expiry.forward)) > 0.4 * Math.sqrt(expiry.years)) return;
      expect(high[i].theory ?? NaN).toBeGreaterThanOrEqual((row.theory ?? NaN) - CENT);
      const intrinsic = Math.max(0, row.side === 'call' ? picture.price - row.strike : row.strike - picture.price);
      expect(row.theory ?? NaN).toBeGreaterThanOrEqual(intrinsic - CENT);
      expect(row.earlyExercise).toBeGreaterThanOrEqual(0);
      if (row.earlyExercise > 0.01) paid++;
    });
  }
  expect(paid).toBeGreaterThan(20);
});

test('European options have none, between strikes it is mixed, and a combination is the sum of its legs', () => {
  const index = pictureOf('VM50');
  for (const expiry of index.expiries) {
    expect(expiry.exercisedInto).toBeNull();
    const { call, put } = earlyExercise(expiry, typed(index, 0.3));
    expect([...Array.from(call), ...Array.from(put)].every((v) => v === 0)).toBe(true);
  }
  const picture = pictureOf('RYE');
  const inForce = typed(picture, 0.4);
  const expiry = picture.expiries[picture.expiries.length - 1];
  const listed = earlyExercise(expiry, inForce);
  const [a, b] = expiry.strikes.slice(-2);
  const [low, high] = [listed.put[expiry.strikes.length - 2], listed.put[expiry.strikes.length - 1]];
  expect(earlyExerciseAt(expiry, 'put', 0.5 * (a + b), listed)).toBeCloseTo(0.5 * (low + high), 12);
  expect(high).toBeGreaterThan(0);

  const rows = chainRows(expiry, { inForce, sides: 'both' });
  const theory = (side: 'call' | 'put', strike: number) =>
    rows.find((r) => r.side === side && r.strike === strike)?.theory ?? NaN;
  const legs = [
    { expiry: expiry.date, side: 'put' as const, strike: b, ratio: 1 },
    { expiry: expiry.date, side: 'put' as const, strike: a, ratio: -2 },
  ];
  const value = spreadTheory(picture, legs, { inForce, earlyExercise: earlyExerciseBy(inForce) });
  expect(value).toBeCloseTo(theory('put', b) - 2 * theory('put', a), 10);
});
