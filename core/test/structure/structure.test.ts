import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { blackScholesMertonGreeks } from '../../src/pricing/index.ts';
import { constantDensity, finishAbove } from '../../src/probability/index.ts';
import {
  type ConstantLeg,
  type ConstantMarket,
  constantStructure,
  type Leg,
  payoffAtExpiry,
  payoffBreakEvens,
  payoffMaximum,
  payoffMinimum,
  payoffProfit,
  recognizeStructure,
  reversed,
  STRUCTURE_NAMES,
  structureLegs,
  type StructureName,
} from '../../src/structure/index.ts';
import { normalNumbers } from '../volatility/normal-numbers.ts';
import { loadReference } from '../reference/load.ts';

interface ReferenceLeg {
  type: 'call' | 'put' | 'stock';
  quantity: number;
  strike?: number;
  volatility?: number;
  premium?: number;
  entry?: number;
}
interface StructureCase {
  label: string;
  spot: number;
  years: number;
  rate: number;
  dividendYield: number;
  volatility: number;
  legs: ReferenceLeg[];
  netCost: number;
  breakEvens: number[];
  maxProfit: number | null;
  maxLoss: number | null;
  probabilityOfProfit: number;
  profitAt: { spot: number; profit: number }[];
  modelGreeks: Record<'price' | 'delta' | 'gamma' | 'vega' | 'theta' | 'rho', number>;
}
interface DatedLeg {
  quantity: number;
  strike: number;
  years: number;
  volatility: number;
  premium: number;
}
interface CalendarCase {
  label: string;
  side: 'call' | 'put';
  spot: number;
  rate: number;
  dividendYield: number;
  front: DatedLeg;
  back: DatedLeg;
  breakEvensAtFrontExpiry: number[];
  maxProfitAtFrontExpiry: number;
  probabilityOfProfit: number;
}

const reference = loadReference<StructureCase, { calendars: CalendarCase[] }>('structures.json');
const marketOf = (c: { spot: number; rate: number; dividendYield: number }, volatility: number): ConstantMarket => ({
  ...{ underlying: c.spot, rate: c.rate, dividendYield: c.dividendYield, volatility },
});
const legsOf = (c: StructureCase): ConstantLeg[] =>
  c.legs.map((leg) =>
    leg.type === 'stock'
      ? { kind: 'underlying', quantity: leg.quantity, price: leg.entry ?? NaN }
      : {
          ...{ kind: 'option' as const, side: leg.type, strike: leg.strike ?? NaN, years: c.years },
          ...{ quantity: leg.quantity, price: leg.premium ?? NaN, volatility: leg.volatility },
        },
  );
/** Relative, of numbers that may be small beside what they are a difference of. */
const near = (
  found: number | null | undefined,
  wanted: number | null,
  tolerance: number,
  size = Math.abs(wanted ?? 1),
) => {
  if (wanted === null) expect(found).toBeUndefined();
  else expect(Math.abs((found ?? NaN) - wanted)).toBeLessThanOrEqual(tolerance * Math.max(size, Number.MIN_VALUE));
};

describe('structures.json', () => {
  test('break-evens, extremes, chance of profit and Greeks agree with exact arithmetic and mpmath', () => {
    expect(reference.cases.length).toBeGreaterThan(40);
    for (const c of reference.cases) {
      const legs = legsOf(c);
      const found = constantStructure(legs, marketOf(c, c.volatility));
      const size = c.legs.reduce((sum, l) => sum + Math.abs(l.quantity) * (l.premium ?? l.entry ?? 0), 0);
      near(found.cost, c.netCost, 1e-12, size);
      near(found.maxProfit, c.maxProfit, 1e-12, size + (c.maxProfit ?? 0));
      near(found.maxLoss, c.maxLoss, 1e-12, size + (c.maxLoss ?? 0));
      expect(found.breakEvens, c.label).toHaveLength(c.breakEvens.length);
      for (const [i, price] of c.breakEvens.entries()) near(found.breakEvens[i], price, 1e-12);
      near(found.probabilityOfProfit, c.probabilityOfProfit, 1e-12, 1);
      for (const { spot, profit } of c.profitAt) near(payoffProfit(legs, spot), profit, 1e-12, size + spot);
      for (const name of ['price', 'delta', 'gamma', 'vega', 'theta', 'rho'] as const) {
        // What each leg brings is what the sum is known to.
        const parts = legs.reduce((sum, leg) => {
          if (leg.kind === 'underlying') return sum + (name === 'price' ? c.spot : 1);
          const greeks = blackScholesMertonGreeks({
            ...leg,
            ...marketOf(c, leg.volatility ?? NaN),
            spot: c.spot,
            timeToExpiry: leg.years,
            volatility: leg.volatility ?? NaN,
          });
          return sum + Math.abs(leg.quantity * greeks[name]);
        }, 0);
        near(found.greeks[name], c.modelGreeks[name], 1e-12, parts);
      }
    }
  });

  test('calendars and diagonals at the front expiry, the later leg by its own volatility', () => {
    expect(reference.calendars.length).toBeGreaterThan(5);
    for (const c of reference.calendars) {
      const leg = (l: DatedLeg): ConstantLeg => ({
        ...{ kind: 'option', side: c.side, strike: l.strike, years: l.years, quantity: l.quantity, price: l.premium },
        volatility: l.volatility,
      });
      const legs = [leg(c.front), leg(c.back)];
      const found = constantStructure(legs, marketOf(c, c.front.volatility));
      expect(found.breakEvens).toHaveLength(c.breakEvensAtFrontExpiry.length);
      for (const [i, price] of c.breakEvensAtFrontExpiry.entries()) near(found.breakEvens[i], price, 1e-8);
      near(found.maxProfit, c.maxProfitAtFrontExpiry, 1e-8);
      near(found.probabilityOfProfit, c.probabilityOfProfit, 1e-8);
      expect(recognizeStructure(legs).name).toBe(c.label);
    }
  });
});

/** Legs of one expiry on a grid of strikes, so that some coincide. */
const option = fc.record({
  kind: fc.constant('option' as const),
  side: fc.constantFrom('call' as const, 'put' as const),
  strike: fc.integer({ min: 6, max: 16 }).map((n) => 10 * n),
  years: fc.constant(0.25),
  quantity: fc.integer({ min: -3, max: 3 }).filter((q) => q !== 0),
  price: fc.integer({ min: 0, max: 2000 }).map((p) => p / 100),
});
const underlying = fc.record({
  kind: fc.constant('underlying' as const),
  quantity: fc.integer({ min: -2, max: 2 }).filter((q) => q !== 0),
  price: fc.integer({ min: 5000, max: 15_000 }).map((p) => p / 100),
});
const anyLegs = fc.array<Leg>(fc.oneof({ weight: 4, arbitrary: option }, { weight: 1, arbitrary: underlying }), {
  minLength: 1,
  maxLength: 6,
});
const MARKET: ConstantMarket = { underlying: 103, rate: 0.03, dividendYield: 0.01, volatility: 0.32 };

describe('any structure of one expiry', () => {
  test('is worth at expiry the sum of its legs; profit is nothing at break-evens and keeps its sign between them', () => {
    fc.assert(
      fc.property(anyLegs, fc.double({ min: 1, max: 300, noNaN: true }), (legs, price) => {
        const payoff = payoffAtExpiry(legs);
        const parts = legs.reduce((sum, leg) => sum + payoffProfit([leg], price), 0);
        expect(payoffProfit(legs, price)).toBeCloseTo(parts, 9);
        const [most, least] = [payoffMaximum(payoff), payoffMinimum(payoff)];
        if (most) expect(payoffProfit(legs, price)).toBeLessThanOrEqual(most.profit + 1e-9);
        if (least) expect(payoffProfit(legs, price)).toBeGreaterThanOrEqual(least.profit - 1e-9);
        // No end means what it says.
        if (!most) expect(payoffProfit(legs, 1e9)).toBeGreaterThan(1e6);
        if (!least) expect(payoffProfit(legs, 1e9)).toBeLessThan(-1e6);
        const found = payoffBreakEvens(payoff);
        for (const breakEven of found) expect(Math.abs(payoffProfit(legs, breakEven))).toBeLessThan(1e-9);
        const edges = [0, ...found, Math.max(400, 2 * (found.at(-1) ?? 0))];
        for (let i = 0; i + 1 < edges.length; i++) {
          const inside = [0.1, 0.5, 0.9].map((s) => payoffProfit(legs, edges[i] + s * (edges[i + 1] - edges[i])));
          const signs = new Set(inside.map((p) => (Math.abs(p) < 1e-9 ? 0 : Math.sign(p))));
          expect(signs.size).toBe(1);
        }
      }),
    );
  });

  test('turned round it has mirrored figures, up to a profit of exactly nothing, and is linear in quantity', () => {
    fc.assert(
      fc.property(anyLegs, (legs) => {
        const one = constantStructure(legs, MARKET);
        const other = constantStructure(reversed(legs), MARKET);
        expect(other.cost).toBeCloseTo(-one.cost, 9);
        expect(other.maxProfit ?? null).toEqual(one.maxLoss === undefined ? null : expect.closeTo(one.maxLoss, 9));
        expect(other.breakEvens).toEqual(one.breakEvens.map((b) => expect.closeTo(b, 9) as number));
        expect(other.greeks.vega).toBeCloseTo(-one.greeks.vega, 9);
        expect(one.probabilityOfProfit + other.probabilityOfProfit).toBeLessThanOrEqual(1 + 1e-12);
        const isFlatAtNothing = one.breakEvens.some((b, i) => {
          const next = one.breakEvens.at(i + 1);
          return Math.abs(payoffProfit(legs, next === undefined ? 2 * b : 0.5 * (b + next))) < 1e-9;
        });
        if (!isFlatAtNothing && one.breakEvens.length > 0)
          expect(one.probabilityOfProfit + other.probabilityOfProfit).toBeCloseTo(1, 9);
        const tripled = constantStructure(
          legs.map((leg) => ({ ...leg, quantity: 3 * leg.quantity })),
          MARKET,
        );
        expect(tripled.greeks.delta).toBeCloseTo(3 * one.greeks.delta, 9);
        expect(tripled.probabilityOfProfit).toBeCloseTo(one.probabilityOfProfit, 12);
        expect(recognizeStructure(legs.map((leg) => ({ ...leg, quantity: 3 * leg.quantity })))).toEqual(
          recognizeStructure(legs),
        );
      }),
    );
  });

  test('chance of profit in closed form is that of the density, and that of drawn prices within its error', () => {
    const law = { spot: 103, timeToExpiry: 0.25, volatility: 0.32, drift: 0.02 };
    const normal = normalNumbers(41);
    const deviation = 0.32 * Math.sqrt(0.25);
    const drawn = Array.from(
      { length: 20_000 },
      () => 103 * Math.exp(0.02 * 0.25 - 0.5 * deviation ** 2 + deviation * normal()),
    );
    fc.assert(
      fc.property(anyLegs, option, (others, one) => {
        const legs = [...others, one];
        const { probabilityOfProfit, breakEvens } = constantStructure(legs, MARKET);
        // Between the places where profit may change sign, by the midpoint rule over the density.
        const edges = [1e-6, ...breakEvens, 1000].filter((e) => e <= 1000);
        let byDensity = 0;
        for (let i = 0; i + 1 < edges.length; i++) {
          const [steps, from, to] = [2000, Math.max(edges[i], 20), Math.min(edges[i + 1], 600)];
          const width = (to - from) / steps;
          if (!(width > 0)) continue;
          for (let n = 0; n < steps; n++) {
            const price = from + (n + 0.5) * width;
            if (payoffProfit(legs, price) > 1e-9) byDensity += constantDensity(law, price) * width;
          }
        }
        expect(Math.abs(byDensity - probabilityOfProfit)).toBeLessThan(2e-5);
        const hits = drawn.filter((price) => payoffProfit(legs, price) > 1e-9).length / drawn.length;
        expect(Math.abs(hits - probabilityOfProfit)).toBeLessThan(4.5 * Math.sqrt(0.25 / drawn.length));
      }),
      { numRuns: 40 },
    );
    expect(finishAbove(law, 103)).toBeGreaterThan(0.4);
  });

  test('is refused with what it cannot be', () => {
    expect(() => constantStructure([], MARKET)).toThrow(/1 to 24 legs/);
    const leg: Leg = { kind: 'option', side: 'call', strike: 100, years: 0.2, quantity: 1, price: 2 };
    expect(() => constantStructure([{ ...leg, strike: 0 }], MARKET)).toThrow(/strike/);
    expect(() => payoffAtExpiry([leg, { ...leg, years: 0.3 }])).toThrow(/different times/);
  });
});

describe('names', () => {
  const strikes = [90, 95, 100, 105];
  const priced = (name: StructureName, side: 'call' | 'put') =>
    structureLegs(name, { side, strikes, expiries: [0.1, 0.3], quantity: 2 })?.map((leg): Leg => ({
      ...leg,
      price: 1,
    }));

  test('every one is built and recognized again, in any order of its legs and however they are parted, and its other side too', () => {
    for (const name of STRUCTURE_NAMES)
      for (const side of ['call', 'put'] as const) {
        const legs = priced(name, side);
        if (name === 'custom') {
          expect(legs).toBeUndefined();
          continue;
        }
        if (!legs) throw new Error(name);
        // Wings as far from the body as each other are what tells the two butterflies apart.
        const built =
          name === 'broken-wing-butterfly'
            ? legs.map((l) => ('strike' in l && l.strike === 100 ? { ...l, strike: 104 } : l))
            : legs;
        fc.assert(
          fc.property(fc.shuffledSubarray(built, { minLength: built.length, maxLength: built.length }), (shuffled) => {
            expect(recognizeStructure(shuffled)).toEqual({ name, isReversed: false });
            const parted = shuffled.flatMap((leg) => [
              { ...leg, quantity: 0.5 * leg.quantity },
              { ...leg, quantity: 0.5 * leg.quantity },
            ]);
            expect(recognizeStructure(parted).name).toBe(name);
          }),
          { numRuns: 20 },
        );
        const other = recognizeStructure(reversed(built));
        const ownReverse: Partial<Record<StructureName, StructureName>> = {
          'ratio-spread': 'back-spread',
          'back-spread': 'ratio-spread',
          'covered-call': 'protective-call',
          'protective-call': 'covered-call',
          'covered-put': 'protective-put',
          'protective-put': 'covered-put',
        };
        const named = ownReverse[name];
        expect(other).toEqual(named ? { name: named, isReversed: false } : { name, isReversed: true });
      }
  });

  test('what has no common name is custom, and what comes to nothing is not counted', () => {
    const leg = (strike: number, quantity: number): Leg => ({
      ...{ kind: 'option', side: 'call', strike, years: 0.2, quantity, price: 1 },
    });
    expect(recognizeStructure([leg(90, 1), leg(100, 1)]).name).toBe('custom');
    expect(recognizeStructure([leg(90, 2), leg(100, -1)]).name).toBe('custom');
    expect(recognizeStructure([leg(90, 1), leg(100, 3), leg(100, -3)])).toEqual({ name: 'single', isReversed: false });
    expect(recognizeStructure([leg(90, -1), leg(100, 1)])).toEqual({ name: 'vertical', isReversed: true });
    expect(structureLegs('condor', { strikes: [90, 100], expiries: [0.1] })).toBeUndefined();
  });
});
