import { expect, test } from 'vitest';
import {
  black76Price,
  blackScholesMertonGreeks,
  blackScholesMertonPrice,
  type LadderTerms,
  optionGreeks,
} from '../../src/pricing/index.ts';
import { priceLaw } from '../../src/probability/index.ts';
import {
  type MarketDay,
  STRUCTURE_MEASURES,
  structureGrid,
  surfaceStructure,
  type ValuedLeg,
} from '../../src/structure/index.ts';
import { movedSmile, type Smile, smileVolatility, sviRawSmile, VolatilitySurface } from '../../src/surface/index.ts';
import { expiryOf, leg, RATE, SPOT, YIELD } from './skewed-market.ts';

const front = sviRawSmile({ a: 0.0012, b: 0.02, rho: -0.6, m: 0.01, sigma: 0.06 }, 30 / 365);
const back = sviRawSmile({ a: 0.004, b: 0.04, rho: -0.55, m: 0.01, sigma: 0.1 }, 90 / 365);
const RANGE: readonly [number, number] = [-0.2, 0.15];
const NOW: MarketDay = { years: 0, forward: SPOT, discountFactor: 1, law: undefined };
const expiries = [expiryOf(front, RANGE), expiryOf(back, RANGE)];
const surface = new VolatilitySurface(
  expiries.map(({ forward }, i) => ({ smile: [front, back][i], forward })),
  { spot: SPOT },
);
/** A day of that market, so many from now. */
function dayAfter(days: number): MarketDay {
  const years = days / 365;
  const forward = surface.forwardAt(years);
  const law = priceLaw({ smile: surface.smileAt(years), forward, range: RANGE });
  return { years, forward, discountFactor: Math.exp(-RATE * years), law };
}
/** Exact Greeks are worked out at every so many of them. */
const EVERY = process.env.SOAK ? 1 : 3;
const prices = Float64Array.from({ length: 61 }, (_, i) => 70 + i);
const legs = [
  leg(front, { side: 'put', strike: 95, quantity: 2 }),
  leg(back, { side: 'call', strike: 104, quantity: -1 }),
  leg(back, { side: 'put', strike: 90, quantity: -3, price: 1 }),
];
const grid = (of: readonly ValuedLeg[], o: Omit<Parameters<typeof structureGrid>[1], 'prices'>) => {
  const result = structureGrid(of, { ...o, prices });
  if (!result.ok) throw new Error(result.reason);
  return result.grid;
};

test('now, of European legs: value and Greeks of Black, Scholes and Merton at each own volatility, at every price', () => {
  const found = grid([...legs, { kind: 'underlying', quantity: 4, price: 99 }], { expiries, days: [NOW] });
  for (const [j, spot] of prices.entries()) {
    const sums = { profit: 4 * (spot - 99), delta: 4, gamma: 0, theta: 0, vega: 0, rho: 0 };
    for (const { side, strike, years, quantity, price, volatility = NaN } of legs) {
      const option = { side, strike, spot, timeToExpiry: years, volatility, rate: RATE, dividendYield: YIELD };
      const greeks = blackScholesMertonGreeks(option);
      sums.profit += quantity * (blackScholesMertonPrice(option) - price);
      for (const name of ['delta', 'gamma', 'theta', 'vega', 'rho'] as const) sums[name] += quantity * greeks[name];
    }
    for (const name of STRUCTURE_MEASURES)
      expect(Math.abs(found[name][j] - sums[name]), `${name} at ${spot}`).toBeLessThan(
        2e-7 * (1 + Math.abs(sums[name])),
      );
  }
});

test('on many days: the profit of each by itself, to its end; delta and gamma are its slope and bend, vega what a shift brings', () => {
  const days = [NOW, dayAfter(3), dayAfter(11), dayAfter(26), undefined];
  const shift = { parallel: 0.01 };
  const found = grid(legs, { expiries, days, shift });
  for (const [row, day] of days.entries()) {
    const on = (parallel: number) => {
      const result = surfaceStructure(legs, { expiries, day, shift: { parallel } });
      if (!result.ok) throw new Error(result.reason);
      return result.structure.profit;
    };
    const [profit, more] = [on(0.01), on(0.01001)];
    for (const [j, price] of prices.entries()) {
      const at = row * prices.length + j;
      expect(Math.abs(found.profit[at] - profit(price)), `day ${row} at ${price}`).toBeLessThan(1e-7);
      // At the end the slope has corners at strikes.
      if (day === undefined && legs.some((l) => Math.abs(l.strike - price) < 0.1)) continue;
      const [below, above] = [profit(price - 0.01), profit(price + 0.01)];
      expect(found.delta[at]).toBeCloseTo((above - below) / 0.02, 5);
      expect(found.gamma[at]).toBeCloseTo((above - 2 * profit(price) + below) / 1e-4, 4);
      expect(found.vega[at]).toBeCloseTo((more(price) - profit(price)) / 1e-5, 2);
    }
  }
});

test('a smile that goes with the price: at the expected price nothing changes, beside it what the moved smile says', () => {
  const day = dayAfter(11);
  const [, call] = legs;
  const one = [{ ...call, quantity: 1 }];
  for (const kind of ['sticky-strike', 'sticky-moneyness', 'sticky-local-volatility'] as const) {
    const movement = { kind };
    const found = grid(one, { expiries, days: [day], shift: { movement } });
    const still = surfaceStructure(one, { expiries, day });
    const moved = surfaceStructure(one, { expiries, day, shift: { movement } });
    if (!still.ok || !moved.ok) throw new Error('not seen');
    expect(moved.structure.profit(day.forward)).toBeCloseTo(still.structure.profit(day.forward), 12);
    const [later = NaN] = still.structure.laterVolatilities;
    const own = Math.log(call.strike / expiries[1].forward);
    for (const [j, price] of prices.entries()) {
      expect(Math.abs(found.profit[j] - moved.structure.profit(price)), `${kind} at ${price}`).toBeLessThan(1e-7);
      const move = Math.log(price / day.forward);
      const volatility =
        later + smileVolatility(movedSmile(back, movement, move), own - move) - smileVolatility(back, own);
      const yearsLeft = back.timeToExpiry - day.years;
      const worth = black76Price({
        ...{ side: call.side, strike: call.strike, timeToExpiry: yearsLeft, volatility },
        forward: (price * expiries[1].forward) / day.forward,
        discountFactor: expiries[1].discountFactor / day.discountFactor,
      });
      expect(found.profit[j]).toBeCloseTo(worth - call.price, 7);
    }
  }
});

test('rho is what a higher rate brings, of the spot with its forward', () => {
  const found = grid(legs, { expiries, days: [dayAfter(5)] });
  const higher = grid(legs, { expiries, days: [dayAfter(5)], shift: { rate: 1e-6 } });
  for (const j of prices.keys()) expect((higher.profit[j] - found.profit[j]) / 1e-6).toBeCloseTo(found.rho[j], 3);
});

test('a future does not move with the rate: rho is what discounting alone brings', () => {
  const futures = expiries.map((e) => ({ ...e, forward: SPOT, isForwardFixed: true }));
  // Each leg's value times the time to its expiry: of all that expire together, the value of all.
  const together = legs.filter((l) => l.years === back.timeToExpiry);
  const one = grid(together, { expiries: futures, days: [NOW] });
  const paid = together.reduce((sum, l) => sum + l.quantity * l.price, 0);
  for (const j of prices.keys()) expect(one.rho[j]).toBeCloseTo(-(one.profit[j] + paid) * back.timeToExpiry, 10);
});

test('the right to exercise early is within 2e-5 of the strike, its delta within 0.001, its vega and theta within 0.1', () => {
  const terms = (smile: Smile): LadderTerms => ({
    ...{ exercise: 'american', model: 'spot', underlying: SPOT, rate: RATE, dividendYield: YIELD },
    timeToExpiry: smile.timeToExpiry,
  });
  const american = [expiryOf(front, RANGE, terms(front)), expiryOf(back, RANGE, terms(back))];
  for (const own of legs) {
    const one = { ...own, quantity: 1 };
    const found = grid([one], { expiries: american, days: [NOW] });
    const smile = own.years === front.timeToExpiry ? front : back;
    for (const [j, underlying] of prices.entries()) {
      if (j % 3 > 0) continue;
      const { side, strike, volatility = NaN } = own;
      const exact = optionGreeks({ ...terms(smile), side, strike, volatility, underlying }, 'exact');
      const about = `${side} ${strike} at ${underlying}`;
      expect(Math.abs(found.profit[j] + own.price - exact.price), about).toBeLessThan(2e-5 * strike);
      expect(Math.abs(found.delta[j] - exact.delta), `delta of ${about}`).toBeLessThan(0.001);
      expect(Math.abs(found.vega[j] - exact.vega), `vega of ${about}`).toBeLessThan(0.1);
      expect(Math.abs(found.theta[j] - exact.theta), `theta of ${about}`).toBeLessThan(0.1);
    }
  }
});

test('gamma of the right to exercise early, at one price as along many: of an option that is not exercised yet within a hundredth of the highest', () => {
  const terms: LadderTerms = {
    ...{ exercise: 'american', model: 'spot', underlying: SPOT, rate: RATE, dividendYield: YIELD },
    timeToExpiry: front.timeToExpiry,
  };
  const american = [expiryOf(front, RANGE, terms), expiryOf(back, RANGE)];
  const [own] = legs.filter((l) => l.side === 'put' && l.years === front.timeToExpiry);
  const { side, strike, volatility = NaN } = own;
  const exactAt = (underlying: number) => optionGreeks({ ...terms, side, strike, volatility, underlying }, 'exact');
  const highest = Math.max(...[...prices].filter((_, j) => j % EVERY === 0).map((price) => exactAt(price).gamma));
  const one = { ...own, quantity: 1 };
  const along = grid([one], { expiries: american, days: [NOW] });
  let checked = 0;
  for (const [j, underlying] of prices.entries()) {
    if (j % EVERY > 0) continue;
    const exact = exactAt(underlying);
    // Where it is exercised gamma ends at once, and a spline bends round that corner.
    if (exact.price - (strike - underlying) < 0.002 * strike) continue;
    checked++;
    const alone = structureGrid([one], { expiries: american, days: [NOW], prices: Float64Array.of(underlying) });
    if (!alone.ok) throw new Error(alone.reason);
    for (const [gamma, how] of [
      [along.gamma[j], 'along many'],
      [alone.grid.gamma[0], 'alone'],
    ] as const)
      expect(Math.abs(gamma - exact.gamma), `${how} at ${underlying}`).toBeLessThan(0.01 * highest);
  }
  expect(checked).toBeGreaterThan(8);
});

test('without a law of the first expiry, what stands in the way is said', () => {
  const rest = expiries.map((e, i) => ({ ...e, law: i === 0 ? undefined : e.law }));
  expect(structureGrid(legs, { expiries: rest, days: [undefined], prices })).toMatchObject({
    ok: false,
    reason: 'no-law',
  });
});
