import { describe, expect, test } from 'vitest';
import { type Accuracy, type Option, optionGreeks, optionPrice, type Side } from '../../src/pricing/index.ts';
import { solvePutBoundary } from '../../src/pricing/american-boundary.ts';
import { schemeOf } from '../../src/pricing/american-levels.ts';
import { putPremiumInto } from '../../src/pricing/american-put.ts';
import { americanScheme, putBoundary } from '../../src/pricing/american-scheme.ts';
import { loadReference } from '../reference/load.ts';

interface Row {
  label: string;
  side: Side;
  spot: number;
  strike: number;
  years: number;
  rate: number;
  dividendYield: number;
  volatility: number;
  price: number;
  immediateExercise: boolean;
  delta: number | null;
  gamma: number | null;
  vega?: number;
  theta?: number;
  rho?: number;
}

// Andersen, Lake & Offengenden's method in independent code (general-purpose library, tanh-sinh rule), cross-checked
// there with finite differences: see the file's meta.
const { cases } = loadReference<Row>('american.json');

function optionOf(c: Row): Option {
  return {
    side: c.side,
    exercise: 'american',
    model: 'spot',
    underlying: c.spot,
    strike: c.strike,
    timeToExpiry: c.years,
    rate: c.rate,
    dividendYield: c.dividendYield,
    volatility: c.volatility,
  };
}

function missesOf(level: Accuracy): number[] {
  return cases.map((c) => (Math.abs(optionPrice(optionOf(c), level) - c.price) * 100) / c.spot);
}

const rms = (values: number[]) => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);

describe('American prices with continuous yield against american.json', () => {
  test('exact: within 3e-7 of the strike, the tolerance of the data', () => {
    const misses = cases
      .map((c) => ({ label: c.label, miss: Math.abs(optionPrice(optionOf(c), 'exact') - c.price) / c.strike }))
      .filter(({ miss }) => !(miss <= 3e-7));
    expect(misses).toEqual([]);
  });

  test('default: 2e-5 rms on spot 100, 4e-4 at most; fast: 5e-4 rms', () => {
    const byDefault = missesOf('default');
    expect(rms(byDefault)).toBeLessThan(2e-5);
    expect(Math.max(...byDefault)).toBeLessThan(4e-4);
    expect(rms(missesOf('fast'))).toBeLessThan(5e-4);
  });

  test('Greeks: delta, gamma, vega, theta and rho within the tolerances of the data', () => {
    const misses: string[] = [];
    // Of every fifth case; of all in the long run.
    for (const c of cases.filter((_, i) => process.env.SOAK || i % 5 === 0)) {
      const greeks = optionGreeks(optionOf(c), 'exact');
      const s = c.volatility * Math.sqrt(c.years);
      const check = (name: 'delta' | 'gamma' | 'vega' | 'theta' | 'rho', tolerance: number) => {
        const expected = c[name];
        if (expected === null || expected === undefined) return;
        if (!(Math.abs(greeks[name] - expected) <= tolerance)) {
          misses.push(`${c.label} ${c.side} ${name}: ${greeks[name]} for ${expected}`);
        }
      };
      check('delta', 1e-5);
      check('gamma', 5e-4 / (c.spot * s));
      for (const name of ['vega', 'theta', 'rho'] as const)
        check(name, 1e-4 * Math.max(Math.abs(c[name] ?? 0), c.strike));
    }
    expect(misses).toEqual([]);
  });
});

// Found on another draw of american.json by its generator: here Newton's steps on the boundary shrink slowly at first.
test('the default level settles where the boundary converges slowly: yield equal to rate, and very low volatility', () => {
  const slow = [
    { underlying: 92.7, timeToExpiry: 0.0821917808219178, rate: 0.117, dividendYield: 0.117, volatility: 0.121 },
    { underlying: 100, timeToExpiry: 1, rate: 0.104, dividendYield: 0.00276, volatility: 0.0385 },
  ];
  for (const market of slow) {
    const o: Option = { side: 'put', exercise: 'american', model: 'spot', strike: 100, ...market };
    expect(Math.abs(optionPrice(o) - optionPrice(o, 'exact'))).toBeLessThan(2e-5);
  }
});

test('the exact level agrees with its own refinement to 1e-9 of the strike', () => {
  const refined = americanScheme({
    boundaryNodes: 40,
    boundaryQuadrature: 96,
    priceQuadrature: 160,
    iterations: 60,
    settled: 1e-12,
  });
  const premiumOf = (scheme: typeof refined, c: Row): number => {
    const boundary = putBoundary(scheme.boundaryNodes);
    if (!solvePutBoundary(boundary, scheme, c.rate, c.dividendYield, c.volatility, c.years)) return NaN;
    const logSpot = Math.log(c.spot / c.strike);
    if (logSpot <= -Math.sqrt(boundary.transform[0])) return 0;
    const premium = { value: 0, delta: 0, gamma: 0 };
    putPremiumInto(premium, boundary, scheme, logSpot, c.rate, c.dividendYield, c.volatility, c.years, false);
    return premium.value;
  };
  const puts = cases.filter((c) => c.side === 'put' && c.rate > 0).filter((_, i) => i % 3 === 0);
  expect(puts.length).toBeGreaterThan(25);
  const misses = puts.map((c) => Math.abs(premiumOf(schemeOf('exact'), c) - premiumOf(refined, c)));
  expect(Math.max(...misses)).toBeLessThan(1e-9);
});
