import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  type Greeks,
  type LadderRung,
  type LadderTerms,
  type LadderValue,
  optionGreeks,
  optionLadder,
  optionPrice,
} from '../../src/pricing/index.ts';

/* A ladder's values against those of each option by itself, at level exact, on grids at level fine. */

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
/** In steps of a hundredth of a percent, 0 among them: what lies nearer to 0 nobody quotes. */
const hundredths = (min: number, max: number) => fc.integer({ min: 100 * min, max: 100 * max }).map((n) => n / 1e4);
const years = fc.tuple(number(0.15, 1), number(0.3, 1.6)).map(([a, b]) => a * b * b);
const shape = { timeToExpiry: years, level: number(0.08, 0.7), tilt: number(-0.15, 0.15) };

/** Options to two deviations on both sides, their volatility tilted over a factor of about two. */
function rungsOf(o: { timeToExpiry: number; level: number; tilt: number }, count: number): LadderRung[] {
  return Array.from({ length: count }, (_, i) => {
    const z = -2 + (4 * i) / (count - 1);
    const strike = 100 * Math.exp(z * o.level * Math.sqrt(o.timeToExpiry));
    return { side: i % 2 === 0 ? 'call' : 'put', strike, volatility: o.level * Math.exp(o.tilt * z) };
  });
}

const withYield = fc
  .record({
    ...shape,
    model: fc.constantFrom('spot' as const, 'futures' as const),
    rate: hundredths(-1, 10),
    q: hundredths(-2, 8),
  })
  .map(({ model, rate, q, ...o }) => {
    const terms: LadderTerms = { exercise: 'american', model, underlying: 100, timeToExpiry: o.timeToExpiry, rate };
    return { terms: model === 'spot' ? { ...terms, dividendYield: q } : terms, rungs: rungsOf(o, 10) };
  });
const withCash = fc
  .record({
    ...shape,
    rate: number(0.005, 0.08),
    q: number(0, 0.02),
    first: number(0.05, 0.45),
    second: number(0.5, 0.95),
    amount: number(0.2, 2),
  })
  .map(({ rate, q, first, second, amount, ...o }) => {
    const T = o.timeToExpiry;
    const dividends = [first, second].map((share) => ({ time: share * T, amount }));
    const terms: LadderTerms = {
      exercise: 'american',
      model: 'spot',
      underlying: 100,
      timeToExpiry: T,
      rate,
      dividendYield: q,
      dividends,
    };
    return { terms, rungs: rungsOf(o, 6) };
  });

/** How far each value may be off, as shares of strike, strike x root of time and strike x time. */
type Errors = Record<'price' | 'delta' | 'vega' | 'rho', number>;
const BOUNDARIES: Errors = { price: 3e-5, delta: 4e-4, vega: 4e-4, rho: 6e-3 };
const GRIDS: Errors = { price: 5e-5, delta: 3e-3, vega: 1.5e-2, rho: 6e-2 };

function misses(value: LadderValue, exact: Greeks, rung: LadderRung, T: number): Errors {
  const of = (name: keyof Errors, scale: number) => Math.abs(value[name] - exact[name]) / scale;
  return {
    price: of('price', rung.strike),
    delta: of('delta', 1),
    vega: of('vega', rung.strike * Math.sqrt(T)),
    rho: of('rho', rung.strike * T),
  };
}

describe('a ladder of American options', () => {
  test.each([
    ['with a yield or on a future, by shared boundaries', withYield, BOUNDARIES, process.env.SOAK ? 6 : 3],
    ['with cash dividends, each on a grid', withCash, GRIDS, 4],
  ] as const)('%s, has the values of each option by itself within its stated error', (_, markets, errors, runs) => {
    // Sampled, not shrunk: fine grids take seconds.
    const drawn = fc.sample<{ terms: LadderTerms; rungs: LadderRung[] }>(markets, {
      numRuns: runs,
      seed: Number(process.env.FAST_CHECK_SEED ?? 20310314),
    });
    let solved = 0;
    for (const { terms, rungs } of drawn) {
      optionLadder(terms, rungs).forEach((value, i) => {
        if (!value) throw new Error('no value');
        if (value.method !== 'closed-form') solved++;
        const o = { ...terms, ...rungs[i] };
        const level = value.method === 'finite-difference' ? 'fine' : 'exact';
        const miss = misses(value, optionGreeks(o, level), rungs[i], terms.timeToExpiry);
        for (const name of ['price', 'delta', 'vega', 'rho'] as const)
          expect(miss[name], `${name} of ${JSON.stringify(o)}`).toBeLessThanOrEqual(errors[name]);
      });
    }
    expect(solved).toBeGreaterThan(10);
  });

  test('has the second-order Greeks of each option by itself', () => {
    for (const dividends of [undefined, [{ time: 0.15, amount: 1 }]]) {
      const terms: LadderTerms = {
        exercise: 'american',
        model: 'spot',
        underlying: 100,
        timeToExpiry: 0.5,
        rate: 0.05,
        dividendYield: 0.01,
        dividends,
      };
      const rungs = rungsOf({ timeToExpiry: 0.5, level: 0.25, tilt: -0.1 }, 10).filter((r) =>
        // Next to the boundary none is smooth.
        r.side === 'put' ? r.strike < 105 : r.strike > 95,
      );
      optionLadder(terms, rungs, { isSecondOrder: true }).forEach((value, i) => {
        const exact = optionGreeks({ ...terms, ...rungs[i] }, 'fine');
        const miss = (name: 'vanna' | 'volga' | 'charm') => Math.abs((value?.second?.[name] ?? NaN) - exact[name]);
        expect(miss('vanna')).toBeLessThan(0.01);
        expect(miss('volga') / rungs[i].strike).toBeLessThan(0.03);
        expect(miss('charm')).toBeLessThan(0.005);
      });
    }
  });

  test('holds the futures price when the rate moves, and says a bad contract is none without losing the others', () => {
    const terms: LadderTerms = {
      exercise: 'american',
      model: 'futures',
      underlying: 100,
      timeToExpiry: 0.3,
      rate: 0.03,
    };
    const rungs = [80, 90, 100, 110, NaN, 120].map((strike): LadderRung => ({ side: 'call', strike, volatility: 0.3 }));
    const values = optionLadder(terms, rungs);
    expect(values[4]).toBeUndefined();
    for (const [i, value] of values.entries()) {
      if (!value) continue;
      const at = (rate: number) => optionPrice({ ...terms, ...rungs[i], rate }, 'exact');
      expect(value.rho).toBeCloseTo((at(0.031) - at(0.029)) / 0.002, 2);
      expect(value.rho).toBeLessThan(0);
    }
    expect(optionLadder(terms, [])).toEqual([]);
  });
});
