import { afterAll, describe, expect, test } from 'vitest';
import {
  chainOptions,
  distantOptions,
  laterInputs,
  listedContract,
  listedValues,
  marketInputs,
  ON_SMILE,
  priceContractOf,
  pricerFigures,
  sameDistance,
  spreadParts,
  legValues,
  spreadValue,
  surfaceGreeks,
  theoryVolatility,
} from '../src/lib/theory/index.ts';
import { figureId, workingsOf } from '../src/lib/measures/index.ts';
import type { ExpiryPicture, Picture } from '../src/lib/api/picture.ts';
import type { PriceResult } from '../src/lib/api/price.ts';
import { priceRow } from '../src/lib/server/derive/price-contracts.ts';
import { chainValues } from '../src/lib/server/services/chain-values.ts';
import { closeComputePool } from '../src/lib/server/derive/pool.ts';
import { type Option, optionGreeks, optionPrice } from '@umwelt/core/pricing';
import { scaledGreeks } from '../src/lib/theory/greek-scales.ts';
import { chainOf } from './chain-of.ts';
import { contextOf, inForceOf, storedPicture, strikesOf, SYMBOLS } from './demo-pictures.ts';

/* One theory: whoever asks for the value of a listed option gets the same, and the API answers it from what Workings hold. */

afterAll(closeComputePool);
const pictures = new Map(SYMBOLS.map((symbol) => [symbol, storedPicture(symbol)]));
const pictureOf = (symbol: (typeof SYMBOLS)[number]) => pictures.get(symbol) as Picture;

/** What prices of a method and level may be off by against another, as a share of the strike. */
const PRICE_ERROR = { 'spectral-collocation': 3e-5, 'finite-difference': 2e-5, 'closed-form': 0, certain: 0 } as const;

test.each([
  ['spot', 0.24, 0.01],
  ['futures', 0.24, 0.01],
  ['normal', 24, 1],
] as const)('Greeks are told per calendar day, volatility point and 0.01 of rate: %s', (model, volatility, point) => {
  const option = {
    ...{ side: 'call', exercise: 'european', model, underlying: 100, strike: 104 },
    ...{ volatility, timeToExpiry: 2, rate: 0.03 },
  } satisfies Option;
  const told = scaledGreeks(optionGreeks(option), model);
  const slope = (
    name: 'volatility' | 'timeToExpiry' | 'rate' | 'underlying',
    by: number,
    figure: (o: Option) => number,
  ) =>
    (figure({ ...option, [name]: option[name] + by / 2 }) - figure({ ...option, [name]: option[name] - by / 2 })) / by;
  const delta = (o: Option) => optionGreeks(o).delta;
  expect(told.theta).toBeCloseTo(-slope('timeToExpiry', 1e-3, optionPrice) / 365, 7);
  expect(told.vega).toBeCloseTo(slope('volatility', point / 10, optionPrice) * point, 5);
  expect(told.rho).toBeCloseTo(slope('rate', 1e-4, optionPrice) * 0.01, 6);
  expect(told.vanna).toBeCloseTo(slope('volatility', point / 10, delta) * point, 6);
  expect(told.charm).toBeCloseTo(-slope('timeToExpiry', 1e-3, delta) / 365, 8);
});

describe.each(SYMBOLS)('%s', (symbol) => {
  test('is worth the same in Chain, Pricer, Workings and by the API, which name the same method', () => {
    const picture = pictureOf(symbol);
    let american = 0;
    for (const expiry of picture.expiries) {
      const inForce = inForceOf(picture, 'smile');
      const rows = chainOf(expiry, { inForce, sides: 'both' });
      for (const strike of strikesOf(expiry)) {
        const pricer = pricerFigures({ inputs: marketInputs(picture, expiry, { strike, inForce }) });
        if (!pricer.ok) throw new Error(pricer.message);
        for (const side of ['call', 'put'] as const) {
          const name = `${expiry.date} ${strike} ${side}`;
          const row = rows.find((r) => r.strike === strike && r.side === side);
          if (!row || row.theory === null || row.method === null) throw new Error(name);
          const workings = workingsOf(picture, contextOf('smile'), figureId('theory', expiry.date, strike, side));
          if (!workings?.request) throw new Error(name);
          const answer = priceRow(workings.request.contracts[0], workings.request.accuracy) as PriceResult;
          expect(answer.method, name).toBe(row.method);
          expect(pricer.answer[side].method, name).toBe(row.method);
          const values = [workings.value ?? NaN, answer.price, pricer.answer[side].greeks.price];
          const error = Math.max(1e-9 * row.theory, 1e-12 * strike, PRICE_ERROR[row.method] * strike);
          for (const value of values) expect(Math.abs(value - row.theory), name).toBeLessThanOrEqual(error);
          if (row.method === 'spectral-collocation' || row.method === 'finite-difference') american++;
          // Greeks of the option itself, in the scales of the API.
          const isGrid = row.method === 'finite-difference';
          const scale = strike * Math.sqrt(expiry.years) * 0.01;
          expect(Math.abs(answer.delta ?? NaN) - Math.abs(row.delta ?? NaN), name).toBeCloseTo(0, isGrid ? 2 : 4);
          expect(Math.abs((answer.vega ?? NaN) - (row.vega ?? NaN)) / scale, name).toBeLessThan(isGrid ? 0.02 : 1e-3);
        }
      }
    }
    expect(american > 0).toBe(picture.underlying.exercise === 'american');
  });

  test('every source of volatility has values that follow it, realized and typed included', () => {
    const picture = pictureOf(symbol);
    const expiry = {
      ...picture.expiries[picture.expiries.length - 1],
      realized: { volatility: 0.23, sessions: 40, sum: 0, squares: 0 },
    };
    const options = chainOptions(expiry, 'out').filter((_, i) => i % 3 === 0);
    const realized = listedValues(expiry, options, inForceOf(picture, 'realized'));
    const typed = listedValues(expiry, options, inForceOf(picture, 'typed', 0.23));
    const higher = listedValues(expiry, options, inForceOf(picture, 'typed', 0.3));
    options.forEach((_, i) => {
      expect(realized[i]?.volatility).toBe(0.23);
      expect(realized[i]).toEqual(typed[i]);
      expect(higher[i]?.price ?? NaN).toBeGreaterThan(typed[i]?.price ?? NaN);
    });
    // Borrowed from itself it is the smile; without a smile to borrow there is nothing, and never another value.
    const { smile } = expiry;
    if (!smile) throw new Error('no smile');
    const borrowed = { base: { smile, years: expiry.years }, steps: [] } as unknown as ExpiryPicture['borrowed'];
    const lent = listedValues({ ...expiry, borrowed }, options, inForceOf(picture, 'borrowed'));
    const fitted = listedValues(expiry, options, inForceOf(picture, 'smile'));
    lent.forEach((value, i) => expect(value?.price).toBeCloseTo(fitted[i]?.price ?? NaN, 10));
    expect(listedValues(expiry, options, inForceOf(picture, 'borrowed'))).toEqual(options.map(() => undefined));
  });

  test('the surface of Greeks, same distances and combinations hold the values of Chain', () => {
    const picture = pictureOf(symbol);
    const expiry = picture.expiries[picture.expiries.length - 1];
    const rows = chainOf(expiry, { inForce: ON_SMILE, sides: 'both' });
    const options = distantOptions(sameDistance(expiry, 'strikes')).slice(0, 4);
    const values = listedValues(expiry, options, ON_SMILE);
    options.forEach(({ side, strike }, i) => {
      const row = rows.find((r) => r.side === side && Math.abs(r.strike - strike) < 1e-9 * strike);
      expect(Math.abs((values[i]?.price ?? NaN) - (row?.theory ?? NaN)) / strike).toBeLessThan(3e-5);
    });
    const legs = options.slice(0, 2).map(({ side, strike }, i) => {
      const listed = expiry.strikes.find((k) => Math.abs(k - strike) < 1e-9 * strike) ?? NaN;
      return { expiry: expiry.date, side, strike: listed, ratio: i === 0 ? 1 : -2 };
    });
    const parts = spreadParts(picture, [legs]);
    const ofParts = parts.map((p) => listedValues(p.expiry, p.options, ON_SMILE));
    const value = spreadValue(legs, legValues(legs, parts, ofParts));
    const [a, b] = legs.map((l) => rows.find((r) => r.side === l.side && r.strike === l.strike)?.theory ?? NaN);
    expect(Math.abs((value ?? NaN) - (a - 2 * b)) / picture.price).toBeLessThan(1e-4);
    const unlisted = [{ expiry: '2001-01-01', side: 'put' as const, strike: 1, ratio: 1 }];
    expect(spreadValue(unlisted, legValues(unlisted, [], []))).toBeNull();
    // The surface of Greeks: each column priced by itself as the API prices it.
    const [delta, vanna] = (['delta', 'vanna'] as const).map((greek) => surfaceGreeks([expiry], greek));
    const columns = delta.logMoneyness.flatMap((k, c) => (Number.isNaN(delta.values[0][c]) ? [] : [{ k, c }]));
    expect(columns.length).toBeGreaterThan(5);
    for (const { k, c } of columns.filter((_, n) => n % 5 === 0)) {
      const option = { side: k >= 0 ? ('call' as const) : ('put' as const), strike: expiry.forward * Math.exp(k) };
      const volatility = theoryVolatility(expiry, option, ON_SMILE) ?? NaN;
      const answer = priceRow(priceContractOf(listedContract(expiry, option, volatility)), 'default') as PriceResult;
      expect(Math.abs(delta.values[0][c] - Math.abs(answer.delta ?? NaN)), `${k}`).toBeLessThan(2e-3);
      expect(Math.abs(vanna.values[0][c] - (answer.vanna ?? NaN)), `${k}`).toBeLessThan(2e-3);
    }
  });
});

test('a chain valued in several turns is the same, and ends when whoever asked has gone', async () => {
  const picture = pictureOf('VMQ');
  const expiry = picture.expiries[2];
  const whole = chainOf(expiry, { inForce: ON_SMILE, sides: 'both' });
  const rows = await chainValues(expiry, ON_SMILE, { lane: 'test', perTurn: 9 });
  expect(rows.map((r) => [r.strike, r.side])).toEqual(whole.map((r) => [r.strike, r.side]));
  // Boundaries are shared among those of a turn: within the error of the level.
  rows.forEach((row, i) =>
    expect(Math.abs((row.theory ?? NaN) - (whole[i].theory ?? NaN)) / row.strike).toBeLessThan(3e-5),
  );
  await expect(chainValues(expiry, ON_SMILE, { lane: 'test', signal: AbortSignal.abort() })).rejects.toThrow('abort');
});

/** As if its options could not be exercised before the end. */
const european = (expiry: ExpiryPicture): ExpiryPicture => ({ ...expiry, exercisedInto: null });

test('an American option is worth no less than its European equivalent, and what it is worth more is told', () => {
  const picture = pictureOf('KELPA');
  const expiry = picture.expiries[2];
  const options = chainOptions(expiry, 'both');
  const inForce = inForceOf(picture, 'smile');
  const without = listedValues(european(expiry), options, inForce);
  listedValues(expiry, options, inForce).forEach((value, i) => {
    expect(without[i]?.earlyExercise).toBe(0);
    const more = (value?.price ?? NaN) - (without[i]?.price ?? NaN);
    expect(more).toBeGreaterThanOrEqual(-2e-5 * options[i].strike);
    expect(Math.abs(Math.max(0, more) - (value?.earlyExercise ?? NaN))).toBeLessThan(1e-9);
  });
});

test('American Greeks are American: exercise at once has delta 1, futures options lose by interest, dividends pull a call', () => {
  const kelpa = pictureOf('KELPA');
  const deep = kelpa.expiries[1];
  const put = chainOf(deep, { inForce: inForceOf(kelpa, 'smile'), sides: 'both' }).find(
    (r) => r.side === 'put' && r.strike === Math.max(...deep.strikes),
  );
  expect(put?.delta).toBe(-1);
  expect([put?.gamma, put?.vega, put?.theta, put?.rho]).toEqual([0, 0, 0, 0]);
  const vmq = pictureOf('VMQ');
  for (const row of chainOf(vmq.expiries[1], { inForce: inForceOf(vmq, 'smile'), sides: 'out' }))
    expect(row.rho ?? NaN).toBeLessThanOrEqual(1e-9);
  // Ahead of a dividend a call in the money is exercised: it moves more with the spot than if it could not be.
  const long = kelpa.expiries.find((e) => e.exercisedInto?.kind === 'spot' && e.exercisedInto.dividends.length > 0);
  if (!long) throw new Error('no dividend ahead');
  const options = chainOptions(long, 'both').filter((o) => o.side === 'call' && o.strike < 0.95 * long.forward);
  const [american, without] = [long, european(long)].map((of) => listedValues(of, options, inForceOf(kelpa, 'smile')));
  const more = options.filter((_, i) => (american[i]?.delta ?? NaN) > (without[i]?.delta ?? NaN) + 0.01);
  expect(more.length).toBeGreaterThan(2);
});

test("the later leg of the decay is its own expiry's: forward, rate and dividends", () => {
  for (const symbol of ['RYE', 'KELPA', 'VM50'] as const) {
    const picture = pictureOf(symbol);
    const inForce = inForceOf(picture, 'smile');
    const expiry = picture.expiries[0];
    const market = marketInputs(picture, expiry, { inForce });
    const later = laterInputs(picture, expiry, { market, own: {}, inForce });
    const far = picture.expiries.find((e) => e.date === later?.date);
    if (!later || !far) throw new Error(symbol);
    const { date, ...inputs } = later;
    expect(inputs).toEqual(marketInputs(picture, far, { side: market.side, strike: market.strike, inForce }));
    expect(date).toBe(far.date);
    // A typed underlying moves both in proportion.
    const moved = laterInputs(picture, expiry, { market, own: { underlying: 1.1 * market.underlying }, inForce });
    expect(moved?.underlying).toBeCloseTo(1.1 * later.underlying, 8);
  }
});
