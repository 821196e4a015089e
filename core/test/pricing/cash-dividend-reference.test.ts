import { expect, test } from 'vitest';
import { type Exercise, type Option, optionGreeks, optionPrice, type Side } from '../../src/pricing/index.ts';
import { loadReference } from '../reference/load.ts';

interface Row {
  label: string;
  style: Exercise;
  side: Side;
  spot: number;
  strike: number;
  years: number;
  rate: number;
  dividendYield: number;
  volatility: number;
  dividends: { years: number; cash: number }[];
  price: number;
  delta: number | null;
  gamma: number | null;
}

// Independent finite differences with Richardson extrapolation, cross-checked by recursive quadrature: the file's meta.
const { cases } = loadReference<Row>('american-discrete-dividends.json');

function optionOf(c: Row): Option {
  return {
    side: c.side,
    exercise: c.style,
    model: 'spot',
    underlying: c.spot,
    strike: c.strike,
    timeToExpiry: c.years,
    rate: c.rate,
    dividendYield: c.dividendYield,
    volatility: c.volatility,
    dividends: c.dividends.map((d) => ({ time: d.years, amount: d.cash })),
  };
}

test('options with known cash dividends: 5e-6 of the strike at the exact and default levels, 1e-5 at fast, 2e-4 at draft', () => {
  const misses: string[] = [];
  for (const [level, tolerance] of [
    ['exact', 5e-6],
    ['default', 5e-6],
    ['fast', 1e-5],
    ['draft', 2e-4],
  ] as const) {
    for (const c of cases) {
      const miss = Math.abs(optionPrice(optionOf(c), level) - c.price) / c.strike;
      if (!(miss <= tolerance)) misses.push(`${level} ${c.label} ${c.style} ${c.side}: ${miss}`);
    }
  }
  expect(misses).toEqual([]);
});

test('their delta is within 1e-4 and gamma x spot within 2e-3', () => {
  const misses: string[] = [];
  for (const c of cases.filter((_, i) => i % 2 === 0)) {
    const { delta, gamma } = optionGreeks(optionOf(c));
    if (c.delta !== null && !(Math.abs(delta - c.delta) <= 1e-4))
      misses.push(`${c.label} delta ${delta} for ${c.delta}`);
    if (c.gamma !== null && !(Math.abs(gamma - c.gamma) * c.spot <= 2e-3)) {
      misses.push(`${c.label} gamma ${gamma} for ${c.gamma}`);
    }
  }
  expect(misses).toEqual([]);
});

// Found on another draw of the reference data by its generator: own finite differences with Richardson there, confirmed
// here on a grid sixteen times as fine (14.03058, -0.99229).
test('next to the exercise boundary the grid is refined: price and delta hold where the value bends within a step', () => {
  const option: Option = {
    side: 'put',
    exercise: 'american',
    model: 'spot',
    underlying: 32.77,
    strike: 46.8,
    timeToExpiry: 1,
    rate: 0.052,
    volatility: 0.297,
    dividends: [{ time: 0.23835616438356164, amount: 0.033 }],
  };
  const { price, delta } = optionGreeks(option, 'exact');
  expect(Math.abs(price - 14.030623632460197)).toBeLessThanOrEqual(5e-6 * 46.8);
  expect(Math.abs(delta - -0.992286586689693)).toBeLessThanOrEqual(1e-4);
  expect(optionPrice(option)).toBeGreaterThan(14.03);
});
