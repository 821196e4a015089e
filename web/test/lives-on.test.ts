import { describe, expect, test } from 'vitest';
import { black76Price } from '@umwelt/core/pricing';
import { calendarYears } from '@umwelt/core/time';
import type { Picture } from '../src/lib/api/picture.ts';
import { structureRequest } from '../src/lib/api/structure.ts';
import { unlistedExpiry } from '../src/lib/market/index.ts';
import {
  evaluateBySymbol,
  legTheory,
  listedValues,
  ON_SMILE,
  type SeenBy,
  spreadParts,
} from '../src/lib/theory/index.ts';
import { inUnitsOfNow } from '../src/lib/views/structure/structure-edit.ts';
import { sceneSums, structureScene } from '../src/lib/views/structure/structure-scene.ts';
import { madePicture } from './made-picture.ts';

/* A position lives on: strikes that are not listed any more, expiries that are not, and what has ended. */

const LEVEL = 0.25;
const SLOPE = -0.15;
const RATE = 0.03;
const picture = madePicture({ level: LEVEL, slope: SLOPE, rate: RATE });
const delivering: Picture = {
  ...picture,
  underlying: { ...picture.underlying, settlement: 'physical', kind: 'share' },
};

/** Black's value by the law that the picture was made of. */
function worthOf(date: string, side: 'call' | 'put', strike: number): number {
  const years = calendarYears(Date.parse(picture.asOf), Date.parse(`${date}T16:30:00Z`));
  const [forward, discountFactor] = [picture.price * Math.exp(RATE * years), Math.exp(-RATE * years)];
  const volatility = LEVEL + SLOPE * Math.log(strike / forward);
  return black76Price({ side, forward, strike, timeToExpiry: years, discountFactor, volatility });
}
const evaluate = (of: Picture, legs: object[], o: Partial<SeenBy> = {}, more: object = { unlisted: 'value' }) => {
  const request = structureRequest.parse({ symbol: of.underlying.symbol, legs, ...more });
  if (!('symbol' in request)) throw new Error('by numbers');
  return evaluateBySymbol(of, request, { inForce: ON_SMILE, ...o });
};
const option = (expiry: string, side: 'call' | 'put', strike: number, quantity = 1) => ({
  ...{ kind: 'option', expiry, side, strike, quantity },
});

describe('not listed', () => {
  // A strike between those listed, one beyond, and an expiry between two; 97 and 143 are no multiples of 2 % of 100.
  test.each([
    ['2031-04-18', 97],
    ['2031-05-16', 123],
    ['2031-05-02', 100],
    ['2031-06-06', 91],
  ])('%s at %d is valued by the smile, and marked so', (date, strike) => {
    for (const side of ['call', 'put'] as const) {
      const found = evaluate(picture, [option(date, side, strike)]);
      if (!found.ok) throw new Error(JSON.stringify(found.troubles));
      const { value = NaN, legs, cost } = found.evaluation;
      const { multiplier } = picture.underlying;
      // Raw SVI is not the straight line that the quotes were made of.
      expect(Math.abs(value / multiplier - worthOf(date, side, strike))).toBeLessThan(0.03);
      expect(cost).toBe(value);
      expect(legs).toEqual([{ valuedBy: 'smile' }]);
      const refused = evaluate(picture, [option(date, side, strike)], {}, {});
      expect(refused.ok).toBe(false);
    }
  });

  test('between two expiries it has the surface of between, and no later one than the last is worth less', () => {
    const between = unlistedExpiry(picture, '2031-05-02');
    const listed = picture.expiries.find((e) => e.date === '2031-05-16');
    expect(between?.days).toBeCloseTo(49 + 3.5 / 24, 9);
    expect(between?.atm ?? NaN).toBeCloseTo(LEVEL, 2);
    expect(between?.forward).toBeCloseTo(100 * Math.exp(RATE * (between?.years ?? NaN)), 1);
    expect(unlistedExpiry(picture, '2031-03-14')?.days).toBeCloseTo(3.5 / 24, 9);
    expect(unlistedExpiry(picture, '2031-03-13')).toBeUndefined();
    const later = unlistedExpiry(picture, '2031-09-19');
    expect(later?.years).toBeGreaterThan(listed?.years ?? NaN);
  });
});

describe('ended', () => {
  const settlements = new Map([['2031-03-07', 90.5]]);
  const straddle = [option('2031-03-07', 'call', 94.5), option('2031-03-07', 'put', 94.5)];

  test('as cash it is worth its payoff at the close, whatever the price does since', () => {
    const found = evaluate(picture, straddle, { settlements });
    if (!found.ok) throw new Error(JSON.stringify(found.troubles));
    expect(found.evaluation).toMatchObject({
      ...{ name: 'straddle', value: 40, cost: 40, maxProfit: 0, firstExpiry: null },
      greeks: { delta: 0, gamma: 0, theta: 0, vega: 0 },
      legs: [{ valuedBy: 'settlement' }, { valuedBy: 'settlement' }],
    });
  });

  test('delivered, the put has become a short share at its strike, the call nothing', () => {
    const found = evaluate(delivering, straddle, { settlements });
    if (!found.ok) throw new Error(JSON.stringify(found.troubles));
    // The price is 100 now: owed since 94.50.
    expect(found.evaluation.value).toBeCloseTo(10 * (94.5 - 100), 9);
    expect(found.evaluation.greeks).toMatchObject({ delta: -10, gamma: 0, vega: 0 });
    const paid = evaluate(delivering, [{ ...straddle[1], price: 3 }], { settlements });
    expect(paid.ok && paid.evaluation).toMatchObject({ cost: 30, breakEvens: [91.5], maxLoss: null });
  });

  test('without a close of that session it says which is missing; asked without a word it is refused as ever', () => {
    const missing = evaluate(picture, straddle, { settlements: new Map([['2031-03-07', null]]) });
    expect(missing).toMatchObject({ ok: false, troubles: [{ leg: 0, field: 'expiry' }, { leg: 1 }] });
    expect(!missing.ok && missing.troubles[0].message).toContain('no close of 2031-03-07 is stored');
    expect(evaluate(picture, straddle, { settlements }, {})).toMatchObject({
      troubles: [
        { leg: 0, field: 'expiry', message: 'no options of 2031-03-07 are quoted at this instant' },
        { leg: 1 },
      ],
    });
  });

  test('beside a leg that lives on the view says the same as the API', () => {
    const legs = [
      { expiry: '2031-03-07', side: 'put' as const, strike: 94.5, ratio: -1 },
      { expiry: '2031-04-18', side: 'put' as const, strike: 94.5, ratio: 1 },
    ];
    for (const of of [picture, delivering]) {
      const parts = spreadParts(of, [legs]);
      const values = parts.map(({ expiry, options }) =>
        listedValues(expiry, options, ON_SMILE, { isSecondOrder: true }),
      );
      const scene = structureScene(of, legs, {
        ...{ held: 0, paid: [], take: 'mid' as const, settlements },
        values: legTheory(legs, parts, values),
      });
      const sums = sceneSums(scene, of.underlying.multiplier);
      const found = evaluate(
        of,
        legs.map((l) => option(l.expiry, l.side, l.strike, l.ratio)),
        { settlements },
      );
      if (!found.ok) throw new Error(JSON.stringify(found.troubles));
      const { greeks, ...rest } = found.evaluation;
      expect(sums.value).toBeCloseTo(rest.value ?? NaN, 9);
      expect(sums.cost).toBeCloseTo(rest.cost, 9);
      for (const name of ['delta', 'gamma', 'theta', 'vega'] as const)
        expect(sums[name]).toBeCloseTo(greeks[name] ?? NaN, 9);
      const front = scene.on(Infinity);
      expect(front?.probabilityOfProfit).toBeCloseTo(rest.probabilityOfProfit ?? NaN, 12);
      expect(scene.legs.map((l) => l.valuedBy)).toEqual(['settlement', 'smile']);
      expect(scene.trouble).toBeUndefined();
    }
    const waiting = structureScene(picture, legs, { held: 0, paid: [], take: 'mid', values: [undefined, undefined] });
    expect(waiting.trouble).toBe(
      'The 94.5 put of 7 Mar has ended, and no close of 7 Mar is stored: import that bar to see what it paid.',
    );
  });
});

test('after a split it is told in the units of now: as many more of as much less, worth the same', () => {
  const now = evaluate(picture, [{ ...option('2031-04-18', 'call', 98, 3), price: 4 }]);
  const then = evaluate(picture, [{ ...option('2031-04-18', 'call', 196, 1.5), price: 8 }], { splitFactor: 2 });
  if (!now.ok || !then.ok) throw new Error('refused');
  expect(then.evaluation).toEqual({ ...now.evaluation, splitFactor: 2 });
  const kept = {
    legs: [{ expiry: '2031-04-18', side: 'call' as const, strike: 196, ratio: 3 }],
    ...{ held: -1, paid: [{ expiry: '2031-04-18', side: 'call' as const, strike: 196, price: 8 }] },
  };
  expect(inUnitsOfNow(kept, 2)).toEqual({
    legs: [{ ...kept.legs[0], strike: 98, ratio: 6 }],
    ...{ held: -2, paid: [{ ...kept.paid[0], strike: 98, price: 4 }] },
  });
  // Of three contracts half as many more are none.
  expect(inUnitsOfNow(kept, 1.5)).toBe(kept);
});
