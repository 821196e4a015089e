import { describe, expect, test } from 'vitest';
import { type LadderTerms, optionPrice } from '../../src/pricing/index.ts';
import { lawDensity, priceLaw } from '../../src/probability/index.ts';
import { type Smile, smileVolatility, sviRawSmile, VolatilitySurface } from '../../src/surface/index.ts';
import {
  constantStructure,
  laterValue,
  lawNodes,
  skewLoad,
  surfaceStructure,
  type MarketShift,
} from '../../src/structure/index.ts';
import { expiryOf, flat, leg, RATE, SPOT, YIELD } from './skewed-market.ts';

const known = (result: ReturnType<typeof surfaceStructure>) => {
  if (!result.ok) throw new Error(result.reason);
  return result.structure;
};

describe('under flat smiles the surface says what one volatility says', () => {
  test('of one expiry, to the last digits', () => {
    const smile = flat(0.25, 0.2);
    const legs = [
      leg(smile, { side: 'put', strike: 90, quantity: 1 }),
      leg(smile, { side: 'put', strike: 95, quantity: -1 }),
      leg(smile, { side: 'call', strike: 105, quantity: -1 }),
      leg(smile, { side: 'call', strike: 112, quantity: 1 }),
    ];
    const found = known(surfaceStructure(legs, { expiries: [expiryOf(smile)] }));
    const constant = constantStructure(legs, { underlying: SPOT, rate: RATE, dividendYield: YIELD, volatility: 0.25 });
    expect(found.probabilityOfProfit).toBeCloseTo(constant.probabilityOfProfit, 12);
    expect(found).toMatchObject({
      maxProfit: constant.maxProfit,
      maxLoss: constant.maxLoss,
      breakEvens: constant.breakEvens,
    });
  });

  test.each([
    [0.25, 0.25],
    [0.3, 0.24],
    [0.2, 0.28],
  ])('of a calendar at %d and %d: what is left has the forward volatility', (near, far) => {
    const [front, back] = [flat(near, 30 / 365), flat(far, 90 / 365)];
    const legs = [
      leg(front, { side: 'call', strike: 101, quantity: -1 }),
      leg(back, { side: 'call', strike: 101, quantity: 1 }),
    ];
    const found = known(surfaceStructure(legs, { expiries: [expiryOf(front), expiryOf(back)] }));
    const forward = Math.sqrt((far ** 2 * 90 - near ** 2 * 30) / 60);
    expect(found.laterVolatilities[0]).toBeUndefined();
    // The law is cut at a ten-millionth on either side.
    expect(found.laterVolatilities[1]).toBeCloseTo(forward, 5);
    const constant = constantStructure(
      legs.map((l) => (l.kind === 'option' && l.quantity > 0 ? { ...l, volatility: forward } : l)),
      { underlying: SPOT, rate: RATE, dividendYield: YIELD, volatility: near },
    );
    expect(found.probabilityOfProfit).toBeCloseTo(constant.probabilityOfProfit, 4);
    for (const [i, b] of constant.breakEvens.entries()) expect(found.breakEvens[i]).toBeCloseTo(b, 3);
    expect(found.maxProfit).toBeCloseTo(constant.maxProfit ?? NaN, 3);
  });
});

describe('under a skewed surface', () => {
  const front = sviRawSmile({ a: 0.0012, b: 0.02, rho: -0.6, m: 0.01, sigma: 0.06 }, 30 / 365);
  const back = sviRawSmile({ a: 0.004, b: 0.04, rho: -0.55, m: 0.01, sigma: 0.1 }, 90 / 365);
  const RANGE: readonly [number, number] = [-0.2, 0.15];
  const expiries = [expiryOf(front, RANGE), expiryOf(back, RANGE)];

  test('the law as nodes has its mean, and later legs are worth over it what they are worth today', () => {
    const { law, forward, discountFactor } = expiries[0];
    if (!law) throw new Error('no law');
    const nodes = lawNodes(law);
    if (!nodes) throw new Error('no nodes');
    expect(nodes.shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12);
    expect(nodes.shares.reduce((sum, share, i) => sum + share * nodes.prices[i], 0)).toBeCloseTo(forward, 9);
    for (const strike of [85, 95, 100, 108])
      for (const side of ['call', 'put'] as const) {
        const legs = [leg(front, { side, strike: 100, quantity: -1 }), leg(back, { side, strike, quantity: 1 })];
        const [, later] = known(surfaceStructure(legs, { expiries })).laterVolatilities;
        const option = {
          ...{ side, strike, yearsLeft: 60 / 365, growth: expiries[1].forward / forward },
          discount: expiries[1].discountFactor / discountFactor,
        };
        // By another rule than ours: the midpoint over the price itself.
        let [sum, mass] = [0, 0];
        for (let price = 40.01; price < 200; price += 0.02) {
          const share = lawDensity(law, price) * 0.02;
          mass += share;
          sum += share * laterValue(option, later ?? NaN, price);
        }
        expect(mass).toBeCloseTo(1, 5);
        const [, held] = legs;
        expect(sum * discountFactor).toBeCloseTo('value' in held ? held.value : NaN, 4);
      }
  });

  test('an American leg is never worth less than its exercise, so that a calendar of calls loses no more than it cost', () => {
    const legs = [
      leg(front, { side: 'call', strike: 100, quantity: -1 }),
      leg(back, { side: 'call', strike: 100, quantity: 1 }),
    ];
    // A yield makes a European call far in the money worth less than its exercise: the loss has no end.
    expect(known(surfaceStructure(legs, { expiries })).maxLoss).toBeUndefined();
    const terms = (smile: Smile): LadderTerms => ({
      ...{ exercise: 'american', model: 'spot', underlying: SPOT, rate: RATE, dividendYield: YIELD },
      timeToExpiry: smile.timeToExpiry,
    });
    const american = [expiryOf(front, RANGE, terms(front)), expiryOf(back, RANGE, terms(back))];
    const found = known(surfaceStructure(legs, { expiries: american }));
    expect(found.maxLoss).toBeCloseTo(found.cost, 6);
    expect(found.maxProfit).toBeGreaterThan(0);
    expect(found.breakEvens).toHaveLength(2);
    // Now, at any price, each leg is worth what the American method says at its volatility.
    const day = { years: 0, forward: SPOT, discountFactor: 1, law: undefined };
    const now = known(surfaceStructure(legs, { expiries: american, day }));
    for (const price of [80, 90, 97, 100, 104, 115, 130]) {
      const worth = legs.reduce((sum, l, i) => {
        if (l.kind !== 'option') return sum;
        const option = {
          ...terms([front, back][i]),
          underlying: price,
          side: l.side,
          strike: l.strike,
          volatility: l.volatility ?? NaN,
        };
        return sum + l.quantity * (optionPrice(option, 'exact') - l.price);
      }, 0);
      expect(Math.abs(now.profit(price) - worth)).toBeLessThan(2 * 1e-5 * 100);
    }
  });

  test('says why it cannot be seen: no law at the front, or a value that no volatility meets', () => {
    const legs = [
      leg(front, { side: 'call', strike: 100, quantity: -1 }),
      leg(back, { side: 'call', strike: 100, quantity: 1 }),
    ];
    const [near, far] = expiries;
    expect(surfaceStructure(legs, { expiries: [{ ...near, law: undefined }, far] })).toEqual({
      ok: false,
      reason: 'no-law',
      leg: 0,
    });
    const low = legs.map((l) => ('value' in l && l.quantity > 0 ? { ...l, value: 0.0001 } : l));
    expect(surfaceStructure(low, { expiries })).toEqual({ ok: false, reason: 'no-volatility', leg: 1 });
  });

  test('skew load: what buys downside skew pays for it, turned round it is paid, and one volatility has none', () => {
    const loaded = (strike: number, quantity: number) => {
      const { forward } = expiries[1];
      const volatility = smileVolatility(back, Math.log(strike / forward));
      return { quantity, vega: 10, volatility, atm: smileVolatility(back, 0) };
    };
    const reversal = [loaded(90, 1), loaded(110, -1)];
    expect(skewLoad(reversal)).toBeGreaterThan(0.005);
    expect(skewLoad(reversal.map((l) => ({ ...l, quantity: -l.quantity })))).toBeCloseTo(-skewLoad(reversal), 15);
    expect(skewLoad(reversal.map((l) => ({ ...l, volatility: l.atm })))).toBe(0);
    expect(skewLoad([])).toBeNaN();
  });

  test('on any day before it is worth, over the law of that day, what it is worth today; now it is that at the price', () => {
    const legs = [
      leg(front, { side: 'put', strike: 97, quantity: 2 }),
      leg(back, { side: 'call', strike: 104, quantity: -1 }),
    ];
    const surface = new VolatilitySurface(
      [
        { smile: front, forward: expiries[0].forward },
        { smile: back, forward: expiries[1].forward },
      ],
      { spot: SPOT },
    );
    for (const days of [0, 5, 15, 29]) {
      const years = days / 365;
      const forward = days === 0 ? SPOT : surface.forwardAt(years);
      const law = days === 0 ? undefined : priceLaw({ smile: surface.smileAt(years), forward, range: RANGE });
      const discountFactor = Math.exp(-RATE * years);
      const found = known(surfaceStructure(legs, { expiries, day: { years, forward, discountFactor, law } }));
      const today = legs.reduce((sum, l) => sum + l.quantity * ('value' in l ? l.value : NaN), 0);
      // Price was the value: what is expected is what today's value grows to by then, less what was paid.
      const expected = days === 0 ? found.profit(SPOT) : (found.expectedProfit ?? NaN);
      expect(expected).toBeCloseTo(today / discountFactor - today, 8);
      if (days === 0) {
        expect(found.probabilityOfProfit).toBeUndefined();
        expect(found.laterVolatilities[0]).toBeCloseTo(legs[0].volatility ?? NaN, 8);
      }
    }
    expect(() => surfaceStructure(legs, { expiries, day: { ...expiries[1] } })).toThrow(/after the first expiry/);
  });

  test('a shift of volatility moves every later leg by as much, or by the root of its time, or by its strike; never below the least', () => {
    const legs = [
      leg(front, { side: 'call', strike: 100, quantity: 1 }),
      leg(back, { side: 'call', strike: 100, quantity: 1 }),
    ];
    const day = { years: 0, forward: SPOT, discountFactor: 1, law: undefined };
    const at = (shift?: MarketShift) =>
      known(surfaceStructure(legs, { expiries, day, shift })).laterVolatilities.map((v) => v ?? NaN);
    const still = at();
    expect(at({ parallel: 0.02 }).map((v, i) => v - still[i])).toEqual([
      expect.closeTo(0.02, 12),
      expect.closeTo(0.02, 12),
    ]);
    const byRoot = at({ parallel: 0.02, isByRootTime: true }).map((v, i) => v - still[i]);
    expect(byRoot).toEqual([expect.closeTo(0.02, 12), expect.closeTo(0.02 / Math.sqrt(3), 12)]);
    expect(at({ parallel: -1 })).toEqual([0.005, 0.005]);
    // A tilt by its strike: nothing at the forward, all of it a tenth below, less than nothing above.
    const { forward } = expiries[1];
    for (const [share, moved] of [
      [1, 0],
      [0.9, 0.03],
      [0.81, 0.06],
      [1 / 0.9, -0.03],
    ] as const) {
      const one = [leg(back, { side: 'put', strike: share * forward, quantity: 1 })];
      const [[before], [after]] = [undefined, { tilt: 0.03 }].map(
        (shift) => known(surfaceStructure(one, { expiries, day, shift })).laterVolatilities,
      );
      expect((after ?? NaN) - (before ?? NaN)).toBeCloseTo(moved, 12);
    }
  });
});
