import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  americanPriceInto,
  earlyExercise,
  europeanColumns,
  exerciseValue,
  type Option,
  optionGreeks,
  optionImpliedVolatility,
  optionPrice,
  pricingMethod,
  setEuropeanRow,
  type Side,
  valuedOption,
} from '../../src/pricing/index.ts';
import { americanScheme } from '../../src/pricing/american-scheme.ts';
import { solveFiniteDifferences } from '../../src/pricing/finite-difference.ts';
import { gridShapeOf } from '../../src/pricing/finite-difference-grid.ts';
import { leisenReimerPrice } from './leisen-reimer-tree.ts';

/** Of what takes long. */
const RUNS = process.env.SOAK ? 1500 : 500;
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const market = {
  side: fc.constantFrom<Side>('call', 'put'),
  strike: number(70, 140),
  timeToExpiry: number(0.02, 2),
  rate: number(-0.01, 0.1),
  volatility: number(0.08, 0.8),
};
const american = fc
  .record({ ...market, dividendYield: number(-0.01, 0.1) })
  .map((m): Option => ({ ...m, exercise: 'american', model: 'spot', underlying: 100 }));
const withDividend = fc
  .record({ ...market, share: number(0.05, 0.95), amount: number(0.1, 6) })
  .map(({ share, amount, ...m }): Option => ({
    ...m,
    exercise: 'american',
    model: 'spot',
    underlying: 100,
    dividends: [{ time: share * m.timeToExpiry, amount }],
  }));
const normal = fc
  .record({ ...market, volatility: number(2, 40), underlying: number(-30, 130) })
  .map((m): Option => ({ ...m, exercise: 'american', model: 'normal' }));

describe('an American option', () => {
  test('is worth at least the European one and at least its exercise value, under every model', () => {
    fc.assert(
      fc.property(fc.oneof(american, withDividend, normal), (o) => {
        const price = optionPrice(o);
        const tolerance = 1e-5 * Math.max(Math.abs(o.strike), o.model === 'normal' ? o.volatility : 0);
        expect(price).toBeGreaterThanOrEqual(optionPrice({ ...o, exercise: 'european' }) - tolerance);
        expect(price).toBeGreaterThanOrEqual(exerciseValue(o));
        expect(earlyExercise(o).premium).toBeGreaterThanOrEqual(0);
      }),
      { numRuns: 60 },
    );
  });

  test('gains with volatility and is convex in the underlying', () => {
    fc.assert(
      fc.property(american, (o) => {
        const at = (underlying: number, volatility = o.volatility) =>
          optionPrice({ ...o, underlying, volatility }, 'fine');
        expect(at(100, 1.05 * o.volatility)).toBeGreaterThanOrEqual(at(100) - 2e-6);
        expect(at(98) + at(102)).toBeGreaterThanOrEqual(2 * at(100) - 5e-6);
      }),
      { numRuns: 60 },
    );
  });

  test('agrees with a Leisen-Reimer tree to the error of the tree', () => {
    fc.assert(
      fc.property(american, (o) => {
        const tree = (steps: number) =>
          leisenReimerPrice(
            {
              isCall: o.side === 'call',
              isAmerican: true,
              spot: o.underlying,
              strike: o.strike,
              timeToExpiry: o.timeToExpiry,
              rate: o.rate,
              dividendYield: o.dividendYield ?? 0,
              volatility: o.volatility,
            },
            steps,
          );
        const fine = tree(401);
        // The tree of American options errs about in proportion to one over its steps.
        expect(Math.abs(optionPrice(o, 'fine') - fine)).toBeLessThan(2 * Math.abs(fine - tree(201)) + 5e-3);
      }),
      { numRuns: 25 },
    );
  });

  test('obeys put-call symmetry (McDonald & Schroder 1998), by finite differences, which do not use it', () => {
    fc.assert(
      fc.property(american, (o) => {
        const { rate, volatility, timeToExpiry, strike } = o;
        const common = { isAmerican: true, isNormal: false, timeToExpiry, volatility, dividends: [] };
        const dividendYield = o.dividendYield ?? 0;
        const call = { ...common, isCall: true, spot: 100, strike, rate, dividendYield };
        const put = { ...common, isCall: false, spot: strike, strike: 100, rate: dividendYield, dividendYield: rate };
        const size = { space: 200, time: 50 };
        const gap =
          solveFiniteDifferences(call, size, gridShapeOf(call)).price -
          solveFiniteDifferences(put, size, gridShapeOf(put)).price;
        expect(Math.abs(gap)).toBeLessThan(5e-6 * 140);
        const priced = optionPrice({ ...o, side: 'call' }, 'fine');
        expect(Math.abs(priced - solveFiniteDifferences(call, size).price)).toBeLessThan(5e-6 * 140);
      }),
      { numRuns: 40 },
    );
  });

  test('has Greeks that are the derivatives of its price', () => {
    fc.assert(
      fc.property(american, (o) => {
        const greeks = optionGreeks(o, 'fine');
        const boundary = earlyExercise(o, 'fine').boundary;
        // Derivatives jump at the boundary: a difference across it would compare two regions.
        fc.pre(boundary === undefined || Math.abs(boundary - 100) > 6);
        const price = (change: Partial<Option>) => optionPrice({ ...o, ...change }, 'exact');
        const slope = (name: 'underlying' | 'volatility' | 'rate' | 'timeToExpiry' | 'strike', h: number) => {
          const at = (k: number) => price({ [name]: (o[name] as number) + k * h });
          return (8 * (at(1) - at(-1)) - (at(2) - at(-2))) / (12 * h);
        };
        expect(greeks.delta).toBeCloseTo(slope('underlying', 0.05), 4);
        expect(greeks.dualDelta).toBeCloseTo(slope('strike', 0.05), 4);
        expect(Math.abs(greeks.vega - slope('volatility', 1e-3))).toBeLessThan(5e-3);
        expect(Math.abs(-greeks.theta - slope('timeToExpiry', 1e-3 * o.timeToExpiry))).toBeLessThan(2e-2);
      }),
      { numRuns: process.env.SOAK ? 12 : 5 },
    );
  });

  test('gives back the volatility it was priced at', () => {
    fc.assert(
      fc.property(fc.oneof(american, withDividend), (o) => {
        const price = optionPrice(o, 'fine');
        const vega = (optionPrice({ ...o, volatility: o.volatility * 1.001 }, 'fine') - price) / (o.volatility * 0.001);
        // Where exercise is best at once, every volatility up to some level gives the same price.
        fc.pre(vega > 0.5);
        const { volatility: _, ...contract } = o;
        const result = optionImpliedVolatility(contract, price);
        expect(result.ok && Math.abs(result.volatility - o.volatility)).toBeLessThan(1e-8);
      }),
      { numRuns: 25 },
    );
  });
});

test('the batch of American prices gives the bits of the scalar function, shared boundaries included', () => {
  const rows = fc.sample(american, { numRuns: 60, seed: 7 });
  // Strikes of one expiry after each other share a boundary.
  const chain = [80, 90, 100, 110].map((strike): Option => ({ ...rows[0], rate: 0.04, strike }));
  const all = [...rows, ...chain];
  const columns = europeanColumns(all.length);
  all.forEach((o, i) => {
    columns.isCall[i] = o.side === 'call' ? 1 : 0;
    setEuropeanRow(columns, i, { ...o, spot: o.underlying, dividendYield: o.dividendYield ?? 0 });
  });
  const out = new Float64Array(all.length);
  expect(americanPriceInto(out, columns)).toBe(0);
  expect(Array.from(out)).toEqual(all.map((o) => optionPrice(o)));
});

describe('the method table', () => {
  const base: Option = {
    side: 'put',
    exercise: 'american',
    model: 'spot',
    underlying: 95,
    strike: 100,
    timeToExpiry: 1,
    rate: 0.05,
    dividendYield: 0.02,
    volatility: 0.25,
  };
  test('sends each contract to its method', () => {
    const methodOf = (change: Partial<Option>) => pricingMethod({ ...base, ...change }).method;
    expect(methodOf({})).toBe('spectral-collocation');
    expect(methodOf({ exercise: 'european' })).toBe('closed-form');
    expect(methodOf({ rate: 0 })).toBe('closed-form');
    expect(methodOf({ rate: -0.01, dividendYield: -0.03 })).toBe('finite-difference');
    expect(methodOf({ model: 'normal', dividendYield: 0 })).toBe('finite-difference');
    expect(methodOf({ dividends: [{ time: 0.5, amount: 1 }] })).toBe('finite-difference');
    expect(methodOf({ volatility: 0 })).toBe('certain');
  });

  test('two exercise boundaries: exercise pays between them only, and the price stays above both alternatives', () => {
    const corner = { ...base, rate: -0.01, dividendYield: -0.04, volatility: 0.15, timeToExpiry: 2 };
    for (const underlying of [10, 40, 80, 95, 120]) {
      const o = { ...corner, underlying };
      expect(optionPrice(o)).toBeGreaterThanOrEqual(exerciseValue(o));
      expect(optionPrice(o)).toBeGreaterThanOrEqual(optionPrice({ ...o, exercise: 'european' }) - 1e-3);
    }
    // A spot near zero waits: at a negative rate the strike grows when it is paid later.
    expect(optionPrice({ ...corner, underlying: 10 })).toBeGreaterThan(91);
  });
});

describe('edge inputs', () => {
  const edge: Option = {
    side: 'put',
    exercise: 'american',
    model: 'spot',
    underlying: 90,
    strike: 100,
    timeToExpiry: 1,
    rate: 0.05,
    dividendYield: 0.02,
    volatility: 0.25,
  };
  test('no time or no volatility gives the best certain payoff', () => {
    expect(optionPrice({ ...edge, timeToExpiry: 0 })).toBe(10);
    expect(optionPrice({ ...edge, volatility: 0 })).toBe(10);
    // A call on a spot that grows without yield waits; certain growth to expiry is discounted back.
    const call = { ...edge, side: 'call' as const, volatility: 0, dividendYield: 0 };
    expect(optionPrice(call)).toBe(0);
    expect(optionPrice({ ...call, underlying: 98 })).toBeCloseTo(98 - 100 * Math.exp(-0.05), 12);
    expect(optionPrice({ ...call, underlying: 98, dividends: [{ time: 0.5, amount: 90 }] })).toBeCloseTo(
      98 - 100 * Math.exp(-0.025),
      12,
    );
    expect(optionGreeks({ ...edge, volatility: 0 })).toMatchObject({ price: 10, delta: -1, gamma: 0, theta: 0 });
  });

  test('tiny and huge prices keep their scale', () => {
    const price = optionPrice(edge);
    for (const scale of [1e-250, 1e-20, 1e20, 1e250]) {
      const scaled = optionPrice({ ...edge, underlying: 90 * scale, strike: 100 * scale });
      expect(Math.abs(scaled / (price * scale) - 1)).toBeLessThan(1e-12);
    }
    expect(optionPrice({ ...edge, strike: 1e-300 })).toBe(0);
    expect(optionPrice({ ...edge, strike: 1e300 })).toBeCloseTo(1e300, -290);
  });

  test('any size of any input gives a number, an infinite limit of gamma and its kin, or a typed error', () => {
    const sizes = fc.constantFrom(1e-300, 1e-8, 1, 100, 1e8, 1e300);
    const extreme = fc.record({
      side: fc.constantFrom<Side>('call', 'put'),
      exercise: fc.constantFrom('european', 'american'),
      model: fc.constantFrom('spot', 'futures', 'normal'),
      underlying: sizes,
      strike: sizes,
      timeToExpiry: fc.constantFrom(0, 1e-10, 0.5, 100),
      rate: fc.constantFrom(-0.5, 0, 0.05, 3),
      volatility: fc.constantFrom(0, 1e-9, 0.2, 5, 100),
    } as const);
    const mayBeInfinite = ['gamma', 'theta', 'speed', 'zomma', 'color', 'vega'];
    let told = 0;
    fc.assert(
      fc.property(extreme, (o) => {
        try {
          const greeks = optionGreeks(o, 'fast');
          for (const [name, value] of Object.entries(greeks)) {
            expect(Number.isNaN(value), name).toBe(false);
            if (!mayBeInfinite.includes(name)) expect(Number.isFinite(value), name).toBe(true);
          }
          expect(greeks.price).toBeGreaterThanOrEqual(0);
          const result = optionImpliedVolatility(o, greeks.price, 'fast');
          if (result.ok) expect(result.volatility).toBeLessThan(Infinity);
          told++;
        } catch (error) {
          if (!(error instanceof RangeError)) throw error;
          expect(error.message).toMatch(/beyond the range of numbers|at most 20/);
        }
      }),
      { numRuns: RUNS },
    );
    expect(told).toBeGreaterThan(0.8 * RUNS);
  });

  test('inputs outside their range are refused by name', () => {
    expect(() => optionPrice({ ...edge, timeToExpiry: -1 })).toThrow('timeToExpiry');
    expect(() => optionPrice({ ...edge, underlying: NaN })).toThrow('underlying');
    expect(() => optionPrice({ ...edge, volatility: Infinity })).toThrow('volatility');
    expect(() => optionPrice({ ...edge, model: 'futures' })).toThrow('futures price');
    expect(() => optionGreeks({ ...edge, dividends: [{ time: 2, amount: 1 }] })).toThrow('dividend time');
  });

  test('impossible prices say why', () => {
    const { volatility: _, ...contract } = edge;
    const reasonOf = (price: number) => {
      const result = optionImpliedVolatility(contract, price);
      return result.ok ? result.volatility : result.reason;
    };
    expect(reasonOf(9.99)).toBe('below-intrinsic');
    expect(reasonOf(10)).toBe(0);
    expect(reasonOf(100)).toBe('above-bound');
    expect(reasonOf(NaN)).toBe('not-a-number');
    expect(reasonOf(Infinity)).toBe('above-bound');
    expect(reasonOf(-Infinity)).toBe('below-intrinsic');
  });
});

describe('where the boundary equation cannot serve', () => {
  // Found by drawing markets: Newton's steps circle where rates lie next to 0.
  const unsettled: Option[] = [
    { rate: 5.303940387237595e-6, dividendYield: 1.1568666e-6, volatility: 0.8993204769787331, timeToExpiry: 0.29003 },
    {
      rate: 6.855608479516344e-5,
      dividendYield: 3.142382134e-5,
      volatility: 2.6440016079826396,
      timeToExpiry: 0.02927,
    },
  ].map((m) => ({ ...m, side: 'put', exercise: 'american', model: 'spot', underlying: 100, strike: 105 }));

  test('grids take over, are named with the reason, and agree with the European price that nothing is added to', () => {
    for (const o of unsettled) {
      const { method, why, greeks } = valuedOption(o, 'fast');
      expect([method, pricingMethod(o).method]).toEqual(['finite-difference', 'spectral-collocation']);
      expect(why).toContain('could not be solved');
      const european = optionGreeks({ ...o, exercise: 'european' });
      expect(Math.abs(greeks.price - european.price) / o.strike).toBeLessThan(2e-5);
      expect(Math.abs(greeks.delta - european.delta)).toBeLessThan(1e-3);
    }
  });

  test('no Greek is that of the unmoved market: rates and volatility move every price that they should', () => {
    fc.assert(
      fc.property(
        fc.record({
          ...market,
          rate: fc.integer({ min: 1, max: 60 }).map((n) => n / 1e4),
          dividendYield: number(0, 0.05),
        }),
        (m) => {
          const o: Option = { ...m, exercise: 'american', model: 'spot', underlying: 100, strike: 100 };
          const g = optionGreeks(o);
          expect(Math.abs(g.vega)).toBeGreaterThan(0);
          expect(Math.abs(g.rho) + Math.abs(g.dividendRho)).toBeGreaterThan(0);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('a scheme larger than the room for it is refused', () => {
    const size = { boundaryNodes: 65, boundaryQuadrature: 8, priceQuadrature: 8, iterations: 1, settled: 1 };
    expect(() => americanScheme(size)).toThrow(RangeError);
    expect(() => americanScheme({ ...size, boundaryNodes: 64, boundaryQuadrature: 129 })).toThrow(RangeError);
  });

  test('an exercise level that the underlying cannot reach is none', () => {
    const o: Option = {
      side: 'call',
      exercise: 'american',
      model: 'spot',
      underlying: 96,
      strike: 100,
      timeToExpiry: 0.25,
      rate: 0.04,
      dividendYield: 0.0008,
      volatility: 0.2,
    };
    expect(earlyExercise(o).boundary).toBeUndefined();
    expect(earlyExercise({ ...o, dividendYield: 0.06 }).boundary).toBeGreaterThan(100);
  });
});
