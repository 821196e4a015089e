import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  dailyBars,
  REALIZED_ESTIMATORS,
  type RealizedEstimator,
  realizedSeries,
  realizedVolatility,
  yangZhangParts,
} from '../../src/volatility/index.ts';
import { loadReference } from '../reference/load.ts';
import { normalNumbers } from './normal-numbers.ts';

type Row = [open: number, high: number, low: number, close: number];
interface Case {
  name: string;
  rows: Row[];
  results: ({ lastRow: number; window: number } & Record<string, number>)[];
  ewma094: { recursiveSeededWithFirstSquaredReturn: number; lastRow: number };
}
const bar = ([open, high, low, close]: Row) => ({ open, high, low, close });
/** What the reference calls each. */
const NAMES: [RealizedEstimator, string][] = [
  ['close-to-close', 'closeToClose'],
  ['close-to-close-zero-mean', 'closeToCloseZeroMean'],
  ['parkinson', 'parkinson'],
  ['garman-klass', 'garmanKlass'],
  ['garman-klass-overnight', 'garmanKlassOvernight'],
  ['rogers-satchell', 'rogersSatchell'],
  ['yang-zhang', 'yangZhang'],
];

test('every estimator of real and synthetic bars to 1e-12, all windows', () => {
  const { cases } = loadReference<Case>('realized-volatility.json');
  let checked = 0;
  for (const c of cases) {
    const bars = dailyBars(c.rows.map(bar));
    for (const result of c.results) {
      for (const [estimator, name] of NAMES) {
        const { volatility } = realizedVolatility(bars, result.lastRow, { estimator, window: result.window });
        expect(Math.abs(volatility / result[name] - 1), `${c.name} ${name} ${result.window}`).toBeLessThan(1e-12);
        checked++;
      }
    }
    const ewma = realizedSeries(bars, { estimator: 'ewma', window: 2 })[c.ewma094.lastRow];
    expect(Math.abs(ewma / c.ewma094.recursiveSeededWithFirstSquaredReturn - 1)).toBeLessThan(1e-12);
  }
  expect(checked).toBeGreaterThanOrEqual(15 * NAMES.length);
});

test('the parts of Yang and Zhang make the whole by their weight', () => {
  const { cases } = loadReference<Case>('realized-volatility.json');
  const bars = dailyBars(cases[0].rows.map(bar));
  const [end, n] = [cases[0].rows.length - 1, 30];
  const { overnight, openToClose, rogersSatchell } = yangZhangParts(bars, end, n);
  const k = 0.34 / (1.34 + (n + 1) / (n - 1));
  const whole = realizedVolatility(bars, end, { estimator: 'yang-zhang', window: n }).volatility;
  expect(Math.sqrt(252 * (overnight + k * openToClose + (1 - k) * rogersSatchell)) / whole).toBeCloseTo(1, 12);
  expect(yangZhangParts(bars, 5, 30).overnight).toBeNaN();
});

test('windows that are not full or hold a gap are empty, by as much as each estimator looks back', () => {
  const rows: (Row | null)[] = Array.from({ length: 30 }, (_, i) => [100, 102, 99, 100 + (i % 3)]);
  rows[12] = null;
  const bars = dailyBars(rows.map((row) => row && bar(row)));
  for (const estimator of REALIZED_ESTIMATORS) {
    if (estimator === 'ewma') continue;
    const looksBack = ['parkinson', 'garman-klass', 'rogers-satchell'].includes(estimator) ? 0 : 1;
    const known = [...realizedSeries(bars, { estimator, window: 5 })].flatMap((v, i) => (Number.isNaN(v) ? [] : [i]));
    const full = (i: number) => i >= 4 + looksBack && i < 30 && !(i >= 12 && i < 12 + 5 + looksBack);
    expect(known, estimator).toEqual([...Array(30).keys()].filter(full));
  }
  expect(() => realizedVolatility(bars, 9, { estimator: 'parkinson', window: 1 })).toThrow(RangeError);
  expect(() => dailyBars([{ open: 10, high: 9, low: 8, close: 9 }])).toThrow(/bar 0: high/);
  expect(() => dailyBars([{ open: 10, high: 11, low: 8, close: NaN }])).toThrow(/bar 0: close/);
});

test('a dividend and a split move no estimate', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1e6 }),
      fc.double({ min: 0.1, max: 5, noNaN: true }),
      fc.constantFrom(2, 3, 0.5),
      (seed, cash, ratio) => {
        const normal = normalNumbers(seed);
        let close = 100;
        const plain = Array.from({ length: 12 }, () => {
          const open = close * Math.exp(0.01 * normal());
          close = open * Math.exp(0.02 * normal());
          return { open, high: Math.max(open, close) * 1.01, low: Math.min(open, close) * 0.99, close };
        });
        // From the seventh session on the holder of one share has `ratio` of them, and has been paid the cash of the first.
        const after = plain[5].close - cash;
        const moved = plain.map((b, i) => {
          const factor = i < 6 ? 1 : after / plain[5].close / ratio;
          return { open: b.open * factor, high: b.high * factor, low: b.low * factor, close: b.close * factor };
        });
        const changed = dailyBars(moved, (i) => (i === 6 ? { dividend: cash, splitRatio: ratio } : undefined));
        for (const estimator of REALIZED_ESTIMATORS) {
          const o = { estimator, window: 10 };
          expect(realizedVolatility(changed, 11, o).volatility).toBeCloseTo(
            realizedVolatility(dailyBars(plain), 11, o).volatility,
            12,
          );
        }
      },
    ),
    { numRuns: 30 },
  );
});

test('two standard errors hold the truth of a random walk about as often as those of a mean of squared normal numbers', () => {
  // 21 sessions of many steps, a fifth of the variance at night: of few, highs and lows would fall short of the path's.
  const steps = 1000;
  const truth = 0.25;
  const session = (truth * truth) / 252;
  const windows = 250;
  const held = new Map<RealizedEstimator, number>();
  const normal = normalNumbers(7);
  for (let w = 0; w < windows; w++) {
    let price = 100;
    const rows = Array.from({ length: 22 }, () => {
      price *= Math.exp(Math.sqrt(0.2 * session) * normal());
      const open = price;
      let [high, low] = [open, open];
      for (let step = 0; step < steps; step++) {
        price *= Math.exp(Math.sqrt((0.8 * session) / steps) * normal());
        high = Math.max(high, price);
        low = Math.min(low, price);
      }
      return { open, high, low, close: price };
    });
    const bars = dailyBars(rows);
    for (const estimator of ['close-to-close', 'close-to-close-zero-mean', 'yang-zhang'] as const) {
      const { volatility, standardError } = realizedVolatility(bars, 21, { estimator, window: 21 });
      if (Math.abs(volatility - truth) < 2 * standardError) held.set(estimator, (held.get(estimator) ?? 0) + 1);
    }
  }
  // A sample of squares is skewed: where its mean falls short its own error does, too. Closes alone are the most skewed case.
  const least = coverageOfSquares(21);
  const drawn = 4 * Math.sqrt((least * (1 - least)) / windows);
  for (const [estimator, count] of held) {
    expect(count / windows, `${estimator}, ${least}`).toBeGreaterThan(least - drawn);
    expect(count / windows, estimator).toBeLessThan(0.9545 + drawn);
  }
  expect(held.size).toBe(3);
});

/** How often the root of a mean of squared normal numbers lies within two of its errors, as the spread of the squares tells them. */
function coverageOfSquares(count: number): number {
  const normal = normalNumbers(8);
  const draws = 20_000;
  let held = 0;
  for (let d = 0; d < draws; d++) {
    const squares = Array.from({ length: count }, () => normal() ** 2);
    const mean = squares.reduce((sum, v) => sum + v / count, 0);
    const spread = squares.reduce((sum, v) => sum + (v - mean) ** 2, 0);
    const error = Math.sqrt(spread / (count - 1) / count) / (2 * Math.sqrt(mean));
    if (Math.abs(Math.sqrt(mean) - 1) < 2 * error) held++;
  }
  return held / draws;
}
