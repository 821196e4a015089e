import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { black76Price } from '@umwelt/core/pricing';
import { constantOdds, lawDensity } from '@umwelt/core/probability';
import { constantStructure, payoffProfit } from '@umwelt/core/structure';
import { issueDetails } from '../../src/lib/api/issue-details.ts';
import { hedgeRequest, structureRequest, type StructureBySymbol } from '../../src/lib/api/structure.ts';
import {
  expiryLaw,
  chainOptions,
  evaluateByNumbers,
  evaluateBySymbol,
  listedValues,
  ON_SMILE,
  solveHedge,
} from '../../src/lib/theory/index.ts';
import { chanceBySource } from '../../src/lib/views/structure/chance-by-source.ts';
import { upsertFuturesCurves } from '../../src/lib/server/repositories/futures-curves.ts';
import { upsertSplits } from '../../src/lib/server/repositories/splits.ts';
import { settlementsOf } from '../../src/lib/server/services/settlements.ts';
import { standingOf } from '../../src/lib/server/services/structure-standing.ts';
import { demoStore } from './demo-store.ts';

/* Structures as the API answers them: in money, in the scales of the screen, by the one theory. */

const SYMBOLS = ['VM50', 'KELPA', 'MERRO', 'TERN', 'RYE'] as const;
const store = demoStore();
const reference = <T>(file: string) =>
  JSON.parse(readFileSync(new URL(`../../../core/test/reference/${file}`, import.meta.url), 'utf8')) as T;

interface StructureCase {
  spot: number;
  years: number;
  rate: number;
  dividendYield: number;
  volatility: number;
  legs: { type: string; quantity: number; strike: number; volatility: number; premium: number; entry: number }[];
  netCost: number;
  maxProfit: number | null;
  maxLoss: number | null;
  probabilityOfProfit: number;
  modelGreeks: { delta: number; theta: number; vega: number; rho: number };
}
const byNumbers = (body: object) => {
  const asked = structureRequest.parse(body);
  if ('symbol' in asked) throw new Error('by symbol');
  return evaluateByNumbers(asked);
};
const numbersOf = (c: StructureCase, multiplier: number) => ({
  ...{ underlying: c.spot, rate: c.rate, dividendYield: c.dividendYield, volatility: c.volatility, multiplier },
  legs: c.legs.map((l) =>
    l.type === 'stock'
      ? { kind: 'underlying', quantity: l.quantity, price: l.entry }
      : {
          kind: 'option',
          side: l.type,
          strike: l.strike,
          years: c.years,
          quantity: l.quantity,
          price: l.premium,
          volatility: l.volatility,
        },
  ),
});

describe('by numbers', () => {
  test('money and Greeks are times the multiplier, Greeks in the scales of the API (structures.json)', () => {
    const { cases } = reference<{ cases: StructureCase[] }>('structures.json');
    for (const c of cases) {
      const found = byNumbers(numbersOf(c, 100));
      const size = 1e-10 * (1 + c.spot);
      expect(Math.abs(found.cost - 100 * c.netCost)).toBeLessThan(100 * size);
      for (const name of ['maxProfit', 'maxLoss'] as const) {
        if (c[name] === null) expect(found[name]).toBeNull();
        else expect(Math.abs((found[name] ?? NaN) - 100 * c[name])).toBeLessThan(100 * size);
      }
      expect(found.probabilityOfProfit).toBeCloseTo(c.probabilityOfProfit, 11);
      const scaled = { delta: 100, theta: 100 / 365, vega: 1, rho: 1 };
      for (const name of ['delta', 'theta', 'vega', 'rho'] as const)
        expect(Math.abs((found.greeks[name] ?? NaN) - scaled[name] * c.modelGreeks[name]), name).toBeLessThan(
          100 * size,
        );
    }
  });

  test('what is malformed is named by its path, of the form that was meant', () => {
    const paths = (body: unknown) => {
      const parsed = structureRequest.safeParse(body);
      return parsed.success ? [] : issueDetails(parsed.error).map((e) => e.path);
    };
    const leg = { kind: 'option', side: 'call', strike: 100, years: 0.2, quantity: 1, price: 2 };
    const market = { underlying: 100, rate: 0.02, volatility: 0.2 };
    expect(paths({ ...market, legs: [leg] })).toEqual([]);
    expect(paths({ ...market, legs: [leg, { ...leg, strike: -1 }] })).toEqual(['legs[1].strike']);
    expect(paths({ ...market, legs: [] })).toEqual(['legs']);
    expect(paths({ ...market, underlying: 0, legs: [leg] })).toEqual(['underlying']);
    const listed = { kind: 'option', expiry: '2031-04-18', side: 'put', strike: 4600, quantity: 1 };
    expect(paths({ symbol: 'VM50', legs: [{ ...listed, side: 'both' }] })).toEqual(['legs[0].side']);
    expect(paths({ symbol: 'VM50', legs: [listed, { kind: 'underlying', quantity: -40 }] })).toEqual([]);
  });
});

describe('by symbol', () => {
  const ask = async (symbol: string, legs: StructureBySymbol['legs'], multiplier?: number) =>
    evaluateBySymbol(
      await store.picture(symbol),
      { symbol, legs, multiplier, unlisted: 'refuse' },
      { inForce: ON_SMILE },
    );

  test.each(SYMBOLS)('%s: value is the sum of what Chain says of each leg, and Greeks too', async (symbol) => {
    const picture = await store.picture(symbol);
    const fitted = picture.expiries.filter(
      (e) => e.smile && e.smile.model !== 'flat' && e.outlier === null && e.days > 5,
    );
    const expiry = fitted[1];
    const options = chainOptions(expiry, 'both').filter(({ side, strike }) => {
      const at = expiry.strikes.indexOf(strike);
      return expiry[side].bid[at] !== null && expiry[side].ask[at] !== null;
    });
    const chosen = [3, 8, 5, 11].map((i) => options[i % options.length]);
    const legs = chosen.map((o, i) => ({
      ...o,
      kind: 'option' as const,
      expiry: expiry.date,
      quantity: [1, -2, 3, -1][i],
    }));
    const found = await ask(symbol, [...legs, { kind: 'underlying', quantity: 2 }], 10);
    if (!found.ok) throw new Error(JSON.stringify(found.troubles));
    const values = listedValues(expiry, chosen, ON_SMILE);
    let [value, delta, cost] = [20 * expiry.underlyingPrice, 20, 20 * expiry.underlyingPrice];
    for (const [i, { quantity, side, strike }] of legs.entries()) {
      const at = expiry.strikes.indexOf(strike);
      value += 10 * quantity * (values[i]?.price ?? NaN);
      delta += 10 * quantity * (values[i]?.delta ?? NaN);
      cost += 5 * quantity * ((expiry[side].bid[at] ?? NaN) + (expiry[side].ask[at] ?? NaN));
    }
    const { evaluation } = found;
    expect(evaluation.value).toBeCloseTo(value, 6);
    expect(evaluation.greeks.delta).toBeCloseTo(delta, 6);
    expect(evaluation.cost).toBeCloseTo(cost, 6);
    expect(evaluation.firstExpiry).toBe(expiry.date);
    expect(evaluation.probabilityOfProfit ?? NaN).toBeGreaterThanOrEqual(0);
    expect(evaluation.probabilityOfProfit ?? NaN).toBeLessThanOrEqual(1);
  });

  test('a call bought has the chance to end above its break-even under the smile; a calendar pays between two prices', async () => {
    const picture = await store.picture('VM50');
    const [near, far] = ['2031-04-18', '2031-06-20'];
    const call = await ask('VM50', [{ kind: 'option', expiry: near, side: 'call', strike: 4900, quantity: 1 }]);
    if (!call.ok) throw new Error('call');
    expect(call.evaluation).toMatchObject({ name: 'single', isReversed: false, maxProfit: null });
    const [breakEven] = call.evaluation.breakEvens;
    expect(breakEven).toBeCloseTo(4900 + call.evaluation.cost / picture.underlying.multiplier, 6);
    const calendar = await ask('VM50', [
      { kind: 'option', expiry: far, side: 'put', strike: 4700, quantity: 1 },
      { kind: 'option', expiry: near, side: 'put', strike: 4700, quantity: -1 },
    ]);
    if (!calendar.ok) throw new Error('calendar');
    const { evaluation } = calendar;
    expect(evaluation.name).toBe('calendar');
    expect(evaluation.breakEvens).toHaveLength(2);
    expect(evaluation.breakEvens[0]).toBeLessThan(4700);
    expect(evaluation.breakEvens[1]).toBeGreaterThan(4700);
    // Between its break-evens, by the density of the first expiry summed up by the midpoint.
    const front = picture.expiries.find((e) => e.date === near);
    const law = front && expiryLaw(front);
    if (!law) throw new Error('no law');
    const [low, high] = evaluation.breakEvens;
    const step = (high - low) / 4000;
    let chance = 0;
    for (let i = 0; i < 4000; i++) chance += lawDensity(law, low + (i + 0.5) * step) * step;
    expect(evaluation.probabilityOfProfit).toBeCloseTo(chance, 6);
    expect(evaluation.maxProfit ?? NaN).toBeGreaterThan(0);
  });

  test('says where a leg is not listed, or has no mid', async () => {
    const leg = { kind: 'option' as const, expiry: '2031-04-18', side: 'put' as const, strike: 4600, quantity: 1 };
    expect(await ask('VM50', [leg, { ...leg, strike: 4601 }])).toMatchObject({
      ...{ ok: false, troubles: [{ leg: 1, field: 'strike' }] },
    });
    expect(await ask('VM50', [{ ...leg, expiry: '2031-04-19' }])).toMatchObject({
      troubles: [{ leg: 0, field: 'expiry' }],
    });
    const picture = await store.picture('VM50');
    const { put, strikes } = picture.expiries.find((e) => e.date === '2031-04-18') ?? picture.expiries[0];
    const without = put.bid.findIndex((bid, i) => bid === null && put.midVolatility[i] === null);
    if (without >= 0) {
      const strike = strikes[without];
      expect(await ask('VM50', [{ ...leg, strike }])).toMatchObject({ troubles: [{ leg: 0, field: 'price' }] });
      expect(await ask('VM50', [{ ...leg, strike, price: 1 }])).toMatchObject({ ok: true });
    }
  });
});

describe('hedges', () => {
  const solve = (body: object) => solveHedge(hedgeRequest.parse(body));

  test('the published hedge, with its running totals: two options, then the underlying (Alexander 2008, from memory)', () => {
    const found = solve({
      position: { delta: -300, gamma: -100, vega: -80 },
      instruments: [
        { name: 'first', delta: 0.2, gamma: 0.1, vega: 0.1 },
        { name: 'second', delta: -0.8, gamma: 0.3, vega: 0.2 },
      ],
      neutralize: ['delta', 'gamma', 'vega'],
    });
    if (!found.ok) throw new Error(found.reason);
    const { trades, steps } = found.answer;
    expect(trades.map((t) => [t.name, Math.round(t.quantity * 1e9) / 1e9])).toEqual([
      ['first', 400],
      ['second', 200],
      ['underlying', 380],
    ]);
    expect(steps.map((s) => s.after)).toEqual(['start', 'first', 'second', 'underlying']);
    expect(steps[0]).toEqual({ after: 'start', delta: -300, gamma: -100, vega: -80 });
    expect(steps[1].gamma).toBeCloseTo(-60, 9);
    expect(steps[2]).toEqual({ after: 'second', delta: expect.closeTo(-380, 9) as number, gamma: 0, vega: 0 });
    expect(steps[3]).toEqual({ after: 'underlying', delta: 0, gamma: 0, vega: 0 });
  });

  test('theta, vanna and volga too; with choice the cheapest; refused where nothing, or more than one, does it', () => {
    const option = (name: string, theta: number, vanna: number, volga: number, cost?: number) => ({
      ...{ name, delta: 0.4, gamma: 0.02, vega: 0.3, theta, vanna, volga, cost },
    });
    const position = { delta: 20, gamma: 3, vega: 9, theta: 4, vanna: 2, volga: -1 };
    const three = [option('a', -0.02, 0.01, 0.2), option('b', -0.05, 0.03, 0.1), option('c', -0.01, -0.02, 0.4)];
    const found = solve({ position, instruments: three, neutralize: ['theta', 'vanna', 'volga'] });
    if (!found.ok) throw new Error(found.reason);
    expect(found.answer.steps.at(-1)).toMatchObject({ theta: 0, vanna: 0, volga: 0 });
    expect(found.answer.trades.map((t) => t.name)).toEqual(['a', 'b', 'c']);
    expect(solve({ position, instruments: three, neutralize: ['vega'], underlying: false })).toEqual({
      ...{ ok: false, reason: 'underdetermined' },
    });
    const priced = three.map((i, n) => ({ ...i, cost: [3, 1, 2][n] }));
    const cheapest = solve({ position, instruments: priced, neutralize: ['vega', 'delta'] });
    if (!cheapest.ok) throw new Error(cheapest.reason);
    const traded = cheapest.answer.trades.filter((t) => t.quantity !== 0).map((t) => t.name);
    expect(traded).toEqual(['b', 'underlying']);
    expect(solve({ position, instruments: [], neutralize: ['gamma'] })).toEqual({ ok: false, reason: 'inconsistent' });
    // What an instrument leaves unknown is unknown of the sum from its trade on.
    const { theta: _theta, ...partly } = three[0];
    const led = solve({ position, instruments: [three[1], partly], neutralize: ['vanna', 'volga'] });
    if (!led.ok) throw new Error(led.reason);
    expect(led.answer.steps.map((s) => s.theta !== undefined)).toEqual([true, true, false]);
    expect(led.answer.steps[1].theta).toBeCloseTo(position.theta - 0.05 * led.answer.trades[0].quantity, 12);
    const whole = solve({ position, instruments: priced, neutralize: ['vega', 'delta'], wholeContracts: true });
    if (!whole.ok) throw new Error(whole.reason);
    expect(whole.answer.trades.every((t) => Number.isInteger(t.quantity))).toBe(true);
  });

  test('what is neutralized must be given, of the position and of every instrument; nothing is named twice', () => {
    const paths = (body: object) => {
      const parsed = hedgeRequest.safeParse(body);
      return parsed.success ? [] : issueDetails(parsed.error).map((e) => e.path);
    };
    const one = { name: 'one', delta: 0.4, gamma: 0.02, vega: 0.3 };
    const position = { delta: 1, gamma: 1, vega: 1 };
    expect(paths({ position, instruments: [one], neutralize: ['theta'] })).toEqual([
      'position.theta',
      'instruments[0].theta',
    ]);
    expect(paths({ position, instruments: [one, one], neutralize: ['delta'] })).toEqual(['instruments[1].name']);
    expect(paths({ position, instruments: [{ ...one, name: 'underlying' }], neutralize: ['delta'] })).toEqual([
      'instruments[0].name',
    ]);
    expect(paths({ position, instruments: [one], neutralize: ['gamma', 'gamma'] })).toEqual(['neutralize[1]']);
  });
});

test('chance and mean profit by sources: of one volatility what Black says, of single levels the chance alone', () => {
  const [forward, years, volatility] = [100, 0.25, 0.3];
  const legs = [
    { kind: 'option' as const, side: 'put' as const, strike: 92, years, quantity: 1, price: 1.4 },
    { kind: 'option' as const, side: 'call' as const, strike: 108, years, quantity: -2, price: 2.1 },
    { kind: 'underlying' as const, quantity: 1, price: 101 },
  ];
  const market = { underlying: forward, rate: 0, dividendYield: 0, volatility };
  const constant = constantStructure(legs, market);
  const profit = (price: number) => payoffProfit(legs, price);
  const structure = {
    ...{ cost: constant.cost, breakEvens: constant.breakEvens, profit, laterVolatilities: [] },
    ...{ maxProfit: constant.maxProfit, maxLoss: constant.maxLoss },
    ...{ probabilityOfProfit: 0.5, expectedProfit: 0.1 },
  };
  const below = (price: number) =>
    constantOdds({ spot: forward, timeToExpiry: years, volatility, drift: 0 }).below(price);
  const told = constant.breakEvens.map((price) =>
    (['smile', 'own', 'atm', 'history'] as const).map((source) => ({
      ...{ source, volatility: source === 'history' ? null : volatility, probability: below(price) },
    })),
  );
  const front = { structure, years, forward };
  const rows = chanceBySource(front, front, told as unknown as Parameters<typeof chanceBySource>[2]);
  const of = (source: string) => rows.find((r) => r.source === source);
  // A martingale gains nothing: what options are worth less what was paid.
  const worth = legs.reduce((sum, leg) => {
    if (leg.kind === 'underlying') return sum + leg.quantity * (forward - leg.price);
    const value = black76Price({ ...leg, forward, timeToExpiry: years, volatility, discountFactor: 1 });
    return sum + leg.quantity * (value - leg.price);
  }, 0);
  expect(of('atm')?.chance).toBeCloseTo(constant.probabilityOfProfit, 12);
  expect(of('atm')?.onDay).toBeCloseTo(constant.probabilityOfProfit, 12);
  expect(of('atm')?.expected).toBeCloseTo(worth, 3);
  expect(of('smile')).toMatchObject({ expected: 0.1, onDay: 0.5 });
  for (const source of ['own', 'history']) {
    expect(of(source)?.chance).toBeCloseTo(constant.probabilityOfProfit, 12);
    expect(of(source)).toMatchObject({ expected: null, onDay: null });
  }
  // Who says nothing of a level says nothing of the whole.
  expect(of('forecast')).toMatchObject({ chance: null, expected: null, onDay: null });
  expect(
    chanceBySource(front, undefined, told as unknown as Parameters<typeof chanceBySource>[2])[0].onDay,
  ).toBeUndefined();
});

describe('what has become of it', () => {
  test('a spot is settled at the close of its bar, a future at that of its next delivery; nothing after the instant is known', async () => {
    const { database, sql } = store.connection;
    const instant = new Date('2031-03-14T14:00:00+01:00');
    const kelpa = await store.underlying('KELPA');
    const [bar] = await sql<{ session: string; close: number }[]>`
      select session::text, close from daily_bars where underlying_id = ${kelpa.id} and session < '2031-03-14' order by session desc limit 1`;
    const asked = await settlementsOf(database, kelpa, {
      instant,
      dates: [bar.session, '2031-03-14', '2031-01-04', bar.session],
    });
    expect(asked).toEqual([
      { expiry: bar.session, price: bar.close, source: 'daily bar' },
      // Its session closes after the instant, and there was none on that Saturday.
      { expiry: '2031-03-14', price: null, source: null },
      { expiry: '2031-01-04', price: null, source: null },
    ]);
    const rye = await store.underlying('RYE');
    const curve = { deliveries: ['2031-02-21', '2031-03-21', '2031-04-18'], prices: [70, 71, 72] };
    const at = (time: string) => new Date(`2031-02-28T${time}:00+01:00`);
    await upsertFuturesCurves(database, [
      { underlyingId: rye.id, instant: at('17:30'), source: 'user', ...curve },
      {
        underlyingId: rye.id,
        instant: new Date('2031-03-07T12:00:00+01:00'),
        source: 'user',

        ...curve,
      },
    ]);
    expect(await settlementsOf(database, rye, { instant, dates: ['2031-02-28', '2031-03-07'] })).toEqual([
      { expiry: '2031-02-28', price: 71, source: 'futures curve' },
      // Of that day noon alone is stored.
      { expiry: '2031-03-07', price: null, source: null },
    ]);
  });

  test('splits since it was kept are counted from the day after, up to the day that is looked at', async () => {
    const kelpa = await store.underlying('KELPA');
    const { database, sql } = store.connection;
    await sql`delete from splits where underlying_id = ${kelpa.id}`;
    for (const [session, ratio] of [
      ['2031-02-03', 2],
      ['2031-03-14', 1.5],
      ['2031-03-17', 3],
    ] as const)
      await upsertSplits(database, [{ underlyingId: kelpa.id, session, ratio, source: 'user', importId: null }]);
    const picture = await store.picture('KELPA');
    const legs = [{ kind: 'option' as const, expiry: '2031-04-18', strike: 95, side: 'call' as const, quantity: 1 }];
    const factor = async (unitsOf?: string) =>
      (await standingOf(database, picture, { symbol: 'KELPA', legs, unlisted: 'value', unitsOf })).splitFactor;
    expect(await factor()).toBe(1);
    expect(await factor('2031-02-02T12:00:00+01:00')).toBe(3);
    expect(await factor('2031-02-03T12:00:00+01:00')).toBe(1.5);
    expect(await factor('2031-03-14T09:00:00+01:00')).toBe(1);
  });
});
