import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Option, optionDelta, optionGreeks, optionPrice } from '../../src/pricing/index.ts';
import {
  CHANGE_CAUSES,
  explainMarketGap,
  explainPriceChange,
  GAP_CAUSES,
  optionLater,
  strikeForDelta,
  timeUntilPrice,
  underlyingForPrice,
  volatilityToCancelDecay,
} from '../../src/whatif/index.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const option: fc.Arbitrary<Option> = fc
  .record({
    side: fc.constantFrom('call', 'put'),
    exercise: fc.constantFrom('european', 'american'),
    model: fc.constantFrom('spot', 'futures', 'normal'),
    underlying: number(70, 130),
    strike: fc.constant(100),
    timeToExpiry: number(0.05, 2),
    rate: number(0, 0.08),
    dividendYield: number(0, 0.06),
    volatility: number(0.1, 0.6),
  } as const)
  .map((o) => ({
    ...o,
    volatility: o.model === 'normal' ? 100 * o.volatility : o.volatility,
    dividendYield: o.model === 'spot' ? o.dividendYield : 0,
  }));
const european = option.map((o): Option => ({ ...o, exercise: 'european' }));
const dividends = [{ time: 0.2, amount: 1.5 }];
const put: Option = {
  side: 'put',
  exercise: 'european',
  model: 'spot',
  underlying: 100,
  strike: 100,
  timeToExpiry: 0.5,
  rate: 0.04,
  volatility: 0.2,
};

describe('the change between two states', () => {
  test('is the sum of its parts for any two contracts', () => {
    fc.assert(
      fc.property(option, option, (from, to) => {
        const { from: before, to: after, change, parts } = explainPriceChange(from, to, 'fast');
        const sum = CHANGE_CAUSES.reduce((total, cause) => total + parts[cause], 0);
        expect(Math.abs(sum - change)).toBeLessThan(1e-10 * (1 + Math.abs(change)));
        expect(Math.abs(after - before - change)).toBeLessThan(1e-12);
        expect(after).toBe(optionPrice(to, 'fast'));
      }),
      { numRuns: 40 },
    );
  });

  test('leaves a rest that falls with the third power of a move of the underlying', () => {
    fc.assert(
      fc.property(european, number(-1, 1), (o, direction) => {
        const s = o.model === 'normal' ? o.volatility : o.volatility * o.underlying;
        const step = (share: number) => ({
          ...o,
          underlying: o.underlying + share * (0.05 + Math.abs(direction)) * Math.sign(direction || 1) * s * 0.2,
        });
        const { change, parts } = explainPriceChange(o, step(0.01));
        // Third order: the bound holds with the largest speed of the neighbourhood.
        const move = step(0.01).underlying - o.underlying;
        const speeds = [0, 0.5, 1].map((t) =>
          Math.abs(optionGreeks({ ...o, underlying: o.underlying + t * move }).speed),
        );
        expect(Math.abs(parts.rest)).toBeLessThanOrEqual(Math.max(...speeds) * Math.abs(move) ** 3 + 1e-11 * 100);
        expect(Math.abs(parts.delta + parts.gamma + parts.rest - change)).toBeLessThan(1e-11 * 100);
      }),
      { numRuns: 100 },
    );
  });

  test('tells each cause alone when only its input moves', () => {
    const o: Option = { ...put, exercise: 'american', strike: 105, dividendYield: 0.01, volatility: 0.25 };
    const moves: [Partial<Option>, string][] = [
      [{ timeToExpiry: 0.499 }, 'theta'],
      [{ volatility: 0.2501 }, 'vega'],
      [{ rate: 0.0401 }, 'rho'],
      [{ dividendYield: 0.0101 }, 'dividend'],
      [{ strike: 106 }, 'contract'],
    ];
    for (const [move, cause] of moves) {
      const { change, parts } = explainPriceChange(o, { ...o, ...move }, 'fine');
      const own = parts[cause as 'theta'];
      expect(Math.abs(own - change), cause).toBeLessThan(0.005 * Math.abs(change));
      for (const other of CHANGE_CAUSES)
        if (other !== cause && other !== 'rest') expect(Math.abs(parts[other]), other).toBe(0);
    }
    const withCash = explainPriceChange(o, { ...o, dividends }, 'fine');
    expect(withCash.parts.dividend).toBeCloseTo(withCash.change, 9);
    expect(withCash.change).toBeGreaterThan(0.5);
  });
});

describe('the gap between theory and market', () => {
  const input = fc.record({
    o: option.filter((o) => o.model !== 'normal' && Math.abs(o.underlying - 100) < 12),
    naiveRate: number(0, 0.06),
    naiveVolatility: number(0.1, 0.5),
    knownYield: number(0, 0.04),
    forwardShift: number(-0.02, 0.02),
  });

  test('adds up from theory to market, with nothing but rounding left over', () => {
    fc.assert(
      fc.property(input, ({ o, naiveRate, naiveVolatility, knownYield, forwardShift }) => {
        const drift = o.model === 'spot' ? o.rate - (o.dividendYield ?? 0) + forwardShift : forwardShift;
        const forward = o.underlying * Math.exp(drift * o.timeToExpiry);
        // What the market would show if its options were priced on that forward.
        const market = optionPrice(
          o.model === 'spot'
            ? { ...o, dividendYield: o.rate - Math.log(forward / o.underlying) / o.timeToExpiry }
            : { ...o, underlying: forward },
          'fine',
        );
        const gap = explainMarketGap({
          ...o,
          model: o.model as 'spot' | 'futures',
          naive: { rate: naiveRate, volatility: naiveVolatility },
          known: { dividendYield: knownYield },
          implied: { rate: o.rate, forward },
          marketPrice: market,
        });
        const sum = GAP_CAUSES.reduce((total, cause) => total + gap.parts[cause], gap.theory) + gap.rest;
        expect(Math.abs(sum - market)).toBeLessThan(1e-12 * 100);
        if (gap.impliedVolatility.ok && gap.impliedVolatility.volatility > 0) {
          expect(Math.abs(gap.rest)).toBeLessThan(1e-9 * 100);
          // Where the price tells volatilities apart, it is the one that made it.
          if (
            market > 0.5 &&
            Math.abs(market - Math.max(0, o.side === 'call' ? o.underlying - 100 : 100 - o.underlying)) > 0.5
          )
            expect(gap.impliedVolatility.volatility).toBeCloseTo(o.volatility, 4);
        }
      }),
      { numRuns: 40 },
    );
  });

  test('blames what was wrong and nothing else', () => {
    const base = {
      side: 'call',
      exercise: 'european',
      model: 'spot',
      underlying: 100,
      strike: 100,
      timeToExpiry: 0.5,
    } as const;
    const forward = 100 * Math.exp(0.03 * 0.5 - 0.01 * 0.5);
    const right = {
      naive: { rate: 0.03, volatility: 0.2 },
      known: { dividendYield: 0.01 },
      implied: { rate: 0.03, forward },
    };
    const market = optionPrice({ ...base, rate: 0.03, dividendYield: 0.01, volatility: 0.2 });
    const gap = explainMarketGap({ ...base, ...right, marketPrice: market });
    expect(gap.parts.rate).toBe(0);
    expect(gap.parts.dividend).toBeLessThan(-0.2);
    expect(Math.abs(gap.parts.forward)).toBeLessThan(1e-12);
    expect(gap.parts.exercise).toBe(0);
    expect(Math.abs(gap.parts.volatility)).toBeLessThan(1e-12);
    // A dearer market with the same forward is volatility alone.
    const dear = explainMarketGap({ ...base, ...right, marketPrice: market + 1 });
    expect(dear.parts.volatility).toBeCloseTo(1, 10);
    // Known cash and its yield come to the same forward.
    const cash = explainMarketGap({ ...base, ...right, known: { dividends }, marketPrice: market });
    expect(cash.parts.dividend).toBeLessThan(-0.5);
    expect(cash.parts.forward).toBeGreaterThan(0.3);
    expect(Math.abs(cash.rest)).toBeLessThan(1e-7);
    // A price that no volatility reaches is left over, and said.
    const impossible = explainMarketGap({ ...base, ...right, marketPrice: 120 });
    expect(impossible.impliedVolatility).toEqual({ ok: false, reason: 'above-bound' });
    expect(impossible.rest).toBeGreaterThan(100);
  });
});

describe('solving for an input', () => {
  test('the underlying found for a price has that price', () => {
    fc.assert(
      fc.property(option, number(-0.2, 0.2), (o, shift) => {
        const target = optionPrice({ ...o, underlying: o.underlying * (1 + shift) }, 'fast');
        fc.pre(target > 1e-4);
        const found = underlyingForPrice(o, target, 'fast');
        if (!found.ok) throw new Error(found.reason);
        expect(Math.abs(optionPrice({ ...o, underlying: found.value }, 'fast') - target)).toBeLessThan(1e-6 * 100);
      }),
      { numRuns: 40 },
    );
  });

  test('the strike found for a delta has that delta', () => {
    fc.assert(
      fc.property(option, number(0.05, 0.9), (o, size) => {
        // Delta ends at e^(-q T); beyond it no strike has it.
        const most = Math.exp(-(o.model === 'spot' ? (o.dividendYield ?? 0) : o.rate) * o.timeToExpiry);
        const target = (o.side === 'call' ? 1 : -1) * size * most;
        const found = strikeForDelta(o, target, 'fast');
        if (!found.ok) throw new Error(found.reason);
        expect(Math.abs(optionDelta({ ...o, strike: found.value }, 'fast') - target)).toBeLessThan(1e-6);
      }),
      { numRuns: 40 },
    );
  });

  test('delta alone is the delta among all Greeks', () => {
    fc.assert(
      fc.property(option, (o) => {
        expect(Math.abs(optionDelta(o, 'fine') - optionGreeks(o, 'fine').delta)).toBeLessThan(1e-6);
      }),
      { numRuns: 30 },
    );
  });

  test('the time until a value ends at that value, and is the first', () => {
    fc.assert(
      fc.property(option, number(0.05, 0.95), (o, share) => {
        const target = optionPrice(optionLater(o, share * o.timeToExpiry), 'fast');
        const found = timeUntilPrice(o, target, 'fast');
        if (!found.ok) throw new Error(found.reason);
        expect(found.value).toBeLessThanOrEqual(share * o.timeToExpiry * (1 + 1e-6) + 1e-9);
        expect(Math.abs(optionPrice(optionLater(o, found.value), 'fast') - target)).toBeLessThan(1e-5 * 100);
      }),
      { numRuns: 30 },
    );
  });

  test('the rise of volatility that cancels decay brings the value back', () => {
    fc.assert(
      fc.property(european, number(0.01, 0.5), (o, share) => {
        const passed = share * o.timeToExpiry;
        const value = optionPrice(o);
        const found = volatilityToCancelDecay(o, passed);
        // Deep in the money a European put can gain with time by more than all its volatility is worth.
        if (!found.ok) {
          expect(optionPrice({ ...optionLater(o, passed), volatility: 0 })).toBeGreaterThan(value - 1e-6);
          return;
        }
        const later = { ...optionLater(o, passed), volatility: o.volatility + found.value };
        expect(Math.abs(optionPrice(later) - value)).toBeLessThan(1e-6 * 100);
      }),
      { numRuns: 60 },
    );
  });

  test('targets that nothing reaches are said to have no solution', () => {
    expect(underlyingForPrice(put, 120)).toEqual({ ok: false, reason: 'no-solution' });
    expect(strikeForDelta(put, 0.3)).toEqual({ ok: false, reason: 'no-solution' });
    expect(strikeForDelta(put, -1.2)).toEqual({ ok: false, reason: 'no-solution' });
    expect(timeUntilPrice(put, 50)).toEqual({ ok: false, reason: 'no-solution' });
    expect(volatilityToCancelDecay(put, 0.5)).toEqual({ ok: false, reason: 'no-solution' });
    expect(() => underlyingForPrice(put, NaN)).toThrow(RangeError);
    expect(() => volatilityToCancelDecay(put, -1)).toThrow(RangeError);
  });

  test('dividends gone ex fall away as time passes', () => {
    const o: Option = { ...put, side: 'call', exercise: 'american', dividends };
    expect(optionLater(o, 0.1).dividends?.[0].time).toBeCloseTo(0.1, 12);
    expect(optionLater(o, 0.3).dividends).toEqual([]);
  });
});
