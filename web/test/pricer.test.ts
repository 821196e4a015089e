import fc from 'fast-check';
import { expect, test } from 'vitest';
import { curveRange } from '../src/lib/views/pricer/curve-range.ts';
import { readDays, readDividends, readNumber } from '../src/lib/ui/number-input.ts';
import { solveWords } from '../src/lib/views/pricer/solve-words.ts';
import {
  CHANGED_GREEKS,
  derivedValue,
  explainGreekChange,
  type GreekChangeFigure,
  greekChangeFigureId,
  greekChangeValue,
} from '../src/lib/measures/index.ts';
import { priceBounds } from '@umwelt/core/pricing';
import { GREEK_CAUSES } from '@umwelt/core/whatif';
import { optionOf, PLAIN_INPUTS, pricerDecay, pricerFigures, pricerSolutions } from '../src/lib/theory/index.ts';
import { pricerHref } from '../src/lib/shell/pricer-href.ts';
import {
  CURVE_AXES,
  inputsFromParameters,
  packInputs,
  pricerSettings,
  type PricerInputs,
  unpackInputs,
} from '../src/lib/api/pricer-inputs.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const inputs: fc.Arbitrary<PricerInputs> = fc.record({
  side: fc.constantFrom('call', 'put'),
  exercise: fc.constantFrom('european', 'american'),
  model: fc.constantFrom('spot', 'futures', 'normal'),
  underlying: number(1, 1e6),
  strike: number(1, 1e6),
  days: number(0, 3000),
  volatility: number(0, 3),
  rate: number(-0.2, 0.5),
  dividendYield: number(-0.2, 0.5),
  dividends: fc.array(fc.record({ days: number(0.1, 900), amount: number(0, 50) }), { maxLength: 4 }),
  contracts: fc.integer({ min: -500, max: 500 }),
  multiplier: number(0.01, 1e5),
});

test('a pinned state comes back from the address as it was, through the address encoding', () => {
  fc.assert(
    fc.property(inputs, (state) => {
      const query = new URLSearchParams({ pinned: packInputs(state) }).toString();
      // -0 and 0 are the same input.
      expect(unpackInputs(new URLSearchParams(query).get('pinned'))).toEqual(JSON.parse(JSON.stringify(state)));
    }),
  );
});

test('malformed parameters are left out one by one, and settings fall back to their defaults', () => {
  const parsed = inputsFromParameters(
    new URLSearchParams(
      'side=straddle&strike=abc&days=-3&volatility=0.3&rate=&dividends=30@x&contracts=1.5&underlying=1e400',
    ),
  );
  expect(parsed).toEqual({ volatility: 0.3 });
  expect(unpackInputs('side:call;strike:100')).toBeUndefined();
  expect(pricerSettings.parse({ panel: 'wheel', decayDays: '-1', axis: 'volatility' })).toMatchObject({
    panel: 'curve',
    decayDays: 1,
    axis: 'volatility',
  });
});

const parseNumber = (text: string) => {
  const read = readNumber(text);
  return read.ok ? read.value : NaN;
};

test('numbers are read as people type them', () => {
  expect(['4 880', '4\u202f880.5', '1,5', '1,234.5', '−3', '+2', '18.5 %', '1e-3'].map(parseNumber)).toEqual([
    4880, 4880.5, 1.5, 1234.5, -3, 2, 18.5, 0.001,
  ]);
  for (const text of ['', 'abc', '1.2.3', '--2', 'Infinity']) expect(parseNumber(text)).toBeNaN();
  // Half of the world reads thousands there: nobody guesses.
  for (const text of ['1,234', '−12,500', '987,654 %']) {
    expect(parseNumber(text)).toBeNaN();
    expect(readNumber(text)).toMatchObject({ ok: false, wrong: expect.stringMatching(/meant as .* or as /) as string });
  }
  expect(readNumber('0,234')).toEqual({ ok: true, value: 0.234 });
  expect(readNumber('1,2345')).toEqual({ ok: true, value: 1.2345 });
});

test('terms are read as days, dates or with their unit; dividends from a line or a sheet, and never turned round', () => {
  const from = Date.parse('2031-03-14T13:00:00Z');
  const days = (text: string) => readDays(text, from, 'T13:00:00Z');
  const expected = {
    '2031-03-21': 7,
    '12.5': 12.5,
    '0.5y': 182.5,
    '2w': 14,
    '3 d': 3,
    '1Y': 365,
    '6m': 184,
    '0.5m': 365 / 24,
  };
  for (const [text, value] of Object.entries(expected)) expect(days(text), text).toEqual({ ok: true, value });
  // The last of August half a year on is the last of February.
  expect(readDays('6m', Date.parse('2031-08-31T10:00:00Z'))).toEqual({ ok: true, value: 182 });
  expect(days('2031-02-30')).toEqual({ ok: false, wrong: '2031-02-30 is no date' });
  expect(days('soon')).toMatchObject({ ok: false, wrong: expect.stringContaining('6m') as string });
  const list = (text: string) => readDividends(text, from, 'T13:00:00Z');
  const both = [
    { days: 30, amount: 1.5 },
    { days: 10, amount: 2 },
  ];
  for (const text of ['30: 1.5, 2031-03-24: 2', '30\t1.5\n2031-03-24\t2\n', '30 1.5; 2031-03-24 2'])
    expect(list(text), text).toEqual({ ok: true, dividends: both });
  expect(list('')).toEqual({ ok: true, dividends: [] });
  for (const text of ['30', '0.5@60.8', '30: 1.5 2', 'soon: 1', '30: x', '30: 1,234'])
    expect(list(text), text).toMatchObject({ ok: false, wrong: expect.stringContaining(`“${text}”`) as string });
});

test('a price that no volatility makes is told with the bound that it breaks', () => {
  const found = (targetPrice: number) => {
    const result = pricerSolutions({
      inputs: PLAIN_INPUTS,
      targetPrice,
      targetDelta: 0.25,
      targetValue: 1,
      decayDays: 1,
    });
    return result.ok ? result.answer.volatility : undefined;
  };
  const { underlying, strike } = PLAIN_INPUTS;
  const option = optionOf(PLAIN_INPUTS);
  const { lower, upper } = priceBounds(option);
  expect(found(lower - 0.01)).toEqual({ ok: false, reason: 'below-intrinsic', bound: lower });
  expect(found(upper + 1)).toEqual({ ok: false, reason: 'above-bound', bound: upper });
  expect(upper).toBeGreaterThan(0.9 * Math.min(underlying, strike));
  expect(solveWords('below-intrinsic', '2.31')).toBe('below what it is worth at no volatility, 2.31');
});

test('the change of each Greek since the pin adds up by cause, whatever the size that is held', () => {
  const pinned = { ...PLAIN_INPUTS, contracts: 2 };
  const now = {
    ...pinned,
    underlying: 1.03 * pinned.underlying,
    days: pinned.days - 3,
    volatility: 0.24,
    contracts: -5,
  };
  const result = pricerFigures({ inputs: now, pinned });
  if (!result.ok || !result.answer.greekChange) throw new Error('not priced');
  const states = { pinned, now, greekChange: result.answer.greekChange, basis: 'position' as const };
  for (const greek of CHANGED_GREEKS) {
    const of = (figure: GreekChangeFigure) => greekChangeValue(greek, figure, states);
    const parts = [...GREEK_CAUSES, 'size' as const].reduce((sum, figure) => sum + of(figure), 0);
    expect(Math.abs(of('change') - parts), greek).toBeLessThan(1e-9 * (1 + Math.abs(of('to'))));
    expect(of('to')).toBeCloseTo(result.answer[now.side].greeks[greek] * -5 * now.multiplier, 9);
    for (const figure of ['from', 'underlying', 'rest', 'size', 'change', 'to'] as const) {
      const workings = explainGreekChange(states, greekChangeFigureId(greek, figure));
      expect(workings?.value, figure).toBe(of(figure));
      const again = workings && derivedValue({ kind: 'formula', text: workings.formula }, workings.inputs)?.value;
      expect(Math.abs((again ?? NaN) - of(figure)), `${greek} ${figure}`).toBeLessThan(1e-9 * (1 + Math.abs(of('to'))));
    }
  }
});

test('curves reach both states on every axis, ascending and inside what the axis allows', () => {
  fc.assert(
    fc.property(inputs, inputs, fc.constantFrom(...CURVE_AXES), (now, pinned, axis) => {
      const state = { ...now, model: 'spot' as const };
      const other = { ...pinned, model: 'spot' as const };
      const x = curveRange(axis, state, other);
      expect(x.every((v, i) => Number.isFinite(v) && (i === 0 || v > x[i - 1]))).toBe(true);
      for (const s of [state, other]) {
        expect(x[0]).toBeLessThanOrEqual(s[axis]);
        expect(x[x.length - 1]).toBeGreaterThanOrEqual(s[axis]);
      }
      if (['underlying', 'strike', 'days', 'volatility'].includes(axis)) expect(x[0]).toBeGreaterThanOrEqual(0);
    }),
  );
});

test('answers are in the units of the screen, and inputs that cannot be priced come back as words', () => {
  // Theta a day, vega a point and rho a point are checked as differences of values.
  const base = { ...PLAIN_INPUTS, days: 90 };
  const at = (change: Partial<PricerInputs>) => {
    const result = pricerFigures({ inputs: { ...base, ...change } });
    if (!result.ok) throw new Error(result.message);
    return result.answer.call.greeks;
  };
  const greeks = at({});
  expect(greeks.theta).toBeCloseTo(at({ days: 89.5 }).price - at({ days: 90.5 }).price, 5);
  expect(greeks.vega).toBeCloseTo(at({ volatility: 0.205 }).price - at({ volatility: 0.195 }).price, 5);
  expect(greeks.rho).toBeCloseTo(at({ rate: 0.035 }).price - at({ rate: 0.025 }).price, 4);
  const refused = pricerFigures({ inputs: { ...base, model: 'spot', underlying: -5 } });
  expect(refused).toMatchObject({ ok: false, message: expect.stringContaining('underlying') as string });
  const solved = pricerSolutions({ inputs: base, targetPrice: 5, targetDelta: 0.25, targetValue: 2, decayDays: 1 });
  if (!solved.ok || !solved.answer.volatility.ok || !solved.answer.days.ok) throw new Error('not solved');
  expect(at({ volatility: solved.answer.volatility.value }).price).toBeCloseTo(5, 9);
  expect(at({ days: 90 - solved.answer.days.value }).price).toBeCloseTo(2, 5);
  const decay = pricerDecay({ near: base, far: { ...base, days: 180 } });
  if (!decay.ok) throw new Error(decay.message);
  const { near, far } = decay.answer;
  expect(near.values.map((line) => line[0])).toEqual([...near.values.map((line) => line[0])].sort((a, b) => a - b));
  expect(near.values[2].at(-1)).toBe(0);
  expect(far.values[2][0]).toBeGreaterThan(near.values[2][0]);
});

test('dividends at or after expiry do not concern an option, nor any of them a futures price', () => {
  const dividends = [
    { days: 10, amount: 1 },
    { days: 30, amount: 1 },
  ];
  expect(optionOf({ ...PLAIN_INPUTS, dividends }).dividends).toEqual([{ time: 10 / 365, amount: 1 }]);
  expect(optionOf({ ...PLAIN_INPUTS, model: 'futures', dividends }).dividends).toBeUndefined();
});

test('the address of the Pricer takes the option of a figure and keeps instant and assumptions', () => {
  const parameters = new URLSearchParams('asOf=2031-03-13T17:30:00%2B01:00&axis=delta&volatilitySource=atm');
  expect(pricerHref('VM50', parameters, '2031-04-18', 'vega~2031-05-16~4500~put')).toBe(
    '/pricer/VM50?asOf=2031-03-13T17%3A30%3A00%2B01%3A00&volatilitySource=atm&expiry=2031-05-16&strike=4500&side=put&panel=market',
  );
  expect(pricerHref('VM50', new URLSearchParams(), '2031-04-18', 'atm30')).toBe('/pricer/VM50?expiry=2031-04-18');
  expect(pricerHref(undefined, parameters)).toBe('/pricer');
});
