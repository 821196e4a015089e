import fc from 'fast-check';
import { black76Greeks, blackScholesMertonGreeks, blackScholesMertonPrice } from '@umwelt/core/pricing';
import { expect, test } from 'vitest';
import { europeanFormula } from '../src/lib/measures/european-formulas.ts';
import { evaluateFormula } from '../src/lib/measures/formula.ts';

const of = (values: Record<string, number | null>) => new Map(Object.entries(values));
const value = (text: string, values: Record<string, number | null> = {}) => evaluateFormula(text, of(values)).value;

test('what is written is computed: precedence, powers, roots, functions, names of several letters', () => {
  expect(value('1 + 2 · 3 − 4 / 8')).toBe(6.5);
  expect(value('−2² + 3³')).toBe(23);
  expect(value('2^(1 + 2) / (2 · 2)')).toBe(2);
  expect(value('a b / (c d)', { a: 6, b: 2, c: 3, d: 4 })).toBe(1);
  expect(value('σ√T', { σ: 0.2, T: 4 })).toBe(0.4);
  expect(value('√((a − b)²)', { a: 1, b: 3 })).toBe(2);
  expect(value('ln(e^(2 x))', { x: 1.5 })).toBeCloseTo(3, 14);
  expect(value('2 s⁻²', { s: 4 })).toBe(0.125);
  expect(value('max(bid − V, 0) + min(offer − V, 0)', { bid: 3, offer: 4, V: 2.5 })).toBe(0.5);
  // An input may be called as a function is, and the number e, or hold a stroke.
  expect(value('n + n(0) · 0', { n: 7 })).toBe(7);
  expect(value('c / n', { c: 63, n: 252 })).toBe(0.25);
  expect(value('e + 1', { e: 2 })).toBe(3);
  expect(value('l ln(l)', { l: Math.E })).toBe(Math.E);
  expect(value('K dσ/dK', { K: 10, 'dσ/dK': -0.5 })).toBe(-5);
  expect(value('N(1.96) − N(−1.96)')).toBeCloseTo(0.9500042097, 9);
});

test('definitions after commas may use those after them, and are told in the order in which they stand', () => {
  const text = 'σ = √(w / T), w = a + b k, k = ln(K / F)';
  const { value: found, intermediate } = evaluateFormula(text, of({ T: 4, a: 1, b: 2, K: 100, F: 100 }));
  expect(found).toBe(0.5);
  expect(intermediate).toEqual([
    { symbol: 'w', expression: 'a + b k', value: 1 },
    { symbol: 'k', expression: 'ln(K / F)', value: 0 },
  ]);
});

test('a sum runs over what is numbered, and over nothing', () => {
  expect(value('Σ vⱼ²', { 'v₁': 1, 'v₂': 2, 'v₃': 3, 'v₅': 9 })).toBe(14);
  expect(value('Σ wⱼ xⱼ', { 'w₁': 1, 'w₂': 2, 'x₁': 10, 'x₂': 100 })).toBe(210);
  expect(value('1 − Σ vⱼ', {})).toBe(1);
  expect(
    value(
      'Σ vⱼ',
      Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`v${'₁₂₃₄₅₆₇₈₉'[i] ?? `₁${'₀₁₂'[i - 9]}`}`, 1])),
    ),
  ).toBe(12);
});

test('what is unknown stays unknown; what cannot be read is refused', () => {
  expect(value('a + b', { a: 1, b: null })).toBeNull();
  expect(value('√(a)', { a: -1 })).toBeNull();
  for (const text of ['a / b c', 'a +', '(a', 'a)', 'a $ b', 'x', 'max(a)', 'Σ a', 'a, b'])
    expect(() => value(text, { a: 1, b: 2, c: 3 }), text).toThrow();
  // A definition that needs one before it.
  expect(() => value('a, p = 1, q = p', { a: 1 })).toThrow('after it is needed');
});

const terms = fc.record({
  S: fc.double({ min: 50, max: 150, noNaN: true }),
  K: fc.double({ min: 50, max: 150, noNaN: true }),
  T: fc.double({ min: 0.05, max: 3, noNaN: true }),
  r: fc.double({ min: -0.02, max: 0.1, noNaN: true }),
  q: fc.double({ min: -0.02, max: 0.1, noNaN: true }),
  σ: fc.double({ min: 0.05, max: 1, noNaN: true }),
});
const FIGURES = ['theory', 'delta', 'gamma', 'theta', 'vega', 'rho'] as const;
const SCALES = { theory: 1, delta: 1, gamma: 1, theta: 1 / 365, vega: 0.01, rho: 0.01 };

test('closed forms of European options as written are those of core, on a spot and on a future', () => {
  fc.assert(
    fc.property(terms, fc.constantFrom('call', 'put'), ({ S, K, T, r, q, σ }, side) => {
      const common = { side, strike: K, timeToExpiry: T, rate: r, volatility: σ } as const;
      const onSpot = blackScholesMertonGreeks({ ...common, spot: S, dividendYield: q });
      const onFuture = black76Greeks({ ...common, forward: S });
      for (const figure of FIGURES) {
        const name = figure === 'theory' ? 'price' : figure;
        const spot = value(europeanFormula(figure, side, 'spot'), { S, K, T, r, q, σ }) ?? NaN;
        const future = value(europeanFormula(figure, side, 'futures'), { F: S, K, T, r, σ }) ?? NaN;
        expect(Math.abs(spot - onSpot[name] * SCALES[figure]), figure).toBeLessThan(1e-11 * (1 + Math.abs(spot)));
        expect(Math.abs(future - onFuture[name] * SCALES[figure]), figure).toBeLessThan(1e-11 * (1 + Math.abs(future)));
      }
    }),
  );
});

test("Hull's example: a call of six months on 42 struck at 40 is worth 4.76, the put 0.81", () => {
  // Hull, J. C. (2015). Options, Futures, and Other Derivatives, 9th ed., example 15.6.
  const hull = { S: 42, K: 40, T: 0.5, r: 0.1, q: 0, σ: 0.2 };
  const call = evaluateFormula(europeanFormula('theory', 'call', 'spot'), of(hull));
  expect(call.value).toBeCloseTo(4.76, 2);
  expect(value(europeanFormula('theory', 'put', 'spot'), hull)).toBeCloseTo(0.81, 2);
  const [d2, d1] = call.intermediate;
  expect([d1.symbol, d1.value?.toFixed(4), d2.symbol, d2.value?.toFixed(4)]).toEqual(['d₁', '0.7693', 'd₂', '0.6278']);
  const exact = blackScholesMertonPrice({
    side: 'call',
    spot: 42,
    strike: 40,
    timeToExpiry: 0.5,
    rate: 0.1,
    dividendYield: 0,
    volatility: 0.2,
  });
  expect(call.value).toBeCloseTo(exact, 12);
});
