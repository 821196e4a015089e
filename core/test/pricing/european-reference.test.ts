import { expect, test } from 'vitest';
import {
  bachelierGreeks,
  black76Greeks,
  blackScholesMertonGreeks,
  type Greeks,
  type Side,
} from '../../src/pricing/index.ts';
import { loadReference } from '../reference/load.ts';

type Row = { label: string; side: Side; years: number; rate: number; strike: number } & Record<string, number>;

/** Relative to the value, absolute where the true value is below 1e-290 (rounded subnormals). */
function miss(actual: number, expected: number, scale = Math.abs(expected)): number {
  const gap = Math.abs(actual - expected);
  return Math.abs(expected) < 1e-290 && gap < 1e-290 ? 0 : gap / scale;
}

function worst(rows: Row[], greeksOf: (c: Row) => Greeks, fields: (keyof Greeks)[], tolerance: (c: Row) => number) {
  const misses: string[] = [];
  for (const c of rows) {
    const greeks = greeksOf(c);
    for (const field of fields) {
      const m = miss(greeks[field], c[field], scaleOf(c, greeks, field));
      if (!(m <= tolerance(c))) misses.push(`${c.label} ${c.side} ${field}: ${greeks[field]} for ${c[field]} (${m})`);
    }
  }
  return misses;
}

/** Greeks that change sign are compared with the sum of their absolute terms, as stated beside the data. */
function scaleOf(c: Row, g: Greeks, field: keyof Greeks): number {
  if (c.spot === undefined) return Math.abs(c[field]);
  const { spot: S, strike: K, years: T, rate: r, dividendYield: q, volatility: v } = c;
  const s = v * Math.sqrt(T);
  const d1 = (Math.log(S / K) + (r - q) * T) / s + s / 2;
  const d2 = d1 - s;
  const drift = Math.abs((r - q) / s) + Math.abs(d2 / (2 * T));
  const density = g.gamma * S * s;
  switch (field) {
    case 'theta':
      return (S * density * v) / (2 * Math.sqrt(T)) + Math.abs(q * S * g.delta) + Math.abs(r * K * g.dualDelta);
    // Terms of d1 and d2 are themselves differences: ln(S / K) / s against s / 2.
    case 'vanna':
      return (density / v) * (Math.abs(d2) + s);
    case 'volga':
      return (g.vega / v) * (Math.abs(d1) + s) * (Math.abs(d2) + s);
    case 'charm':
      return Math.abs(q * g.delta) + density * (drift + s / (2 * T));
    case 'speed':
      return (g.gamma / S) * (Math.abs(d1) / s + 1);
    case 'zomma':
      return (g.gamma / v) * ((Math.abs(d1) + s) * (Math.abs(d2) + s) + 1);
    case 'color':
      return g.gamma * (Math.abs(q) + 1 / (2 * T) + (Math.abs(d1) + s) * (drift + s / (2 * T)));
    default:
      return Math.abs(c[field]);
  }
}

const d1Of = (forward: number, c: Row) =>
  Math.log(forward / c.strike) / (c.volatility * Math.sqrt(c.years)) + 0.5 * c.volatility * Math.sqrt(c.years);

test('European price and Greeks agree with mpmath (european.json) to max(1e-12, 2e-15 (1 + d1^2))', () => {
  const { cases } = loadReference<Row>('european.json');
  expect(cases.length).toBeGreaterThan(300);
  const fields: (keyof Greeks)[] = [
    ...(['price', 'delta', 'gamma', 'vega', 'theta', 'rho', 'dividendRho', 'vanna', 'volga', 'charm'] as const),
    ...(['speed', 'zomma', 'color', 'dualDelta', 'probabilityItm'] as const),
  ];
  const misses = worst(
    cases,
    (c) =>
      blackScholesMertonGreeks({
        ...(c as never as Parameters<typeof blackScholesMertonGreeks>[0]),
        timeToExpiry: c.years,
      }),
    fields,
    (c) => Math.max(1e-12, 2e-15 * (1 + d1Of(c.spot * Math.exp((c.rate - c.dividendYield) * c.years), c) ** 2)),
  );
  expect(misses).toEqual([]);
});

test('options on futures agree with mpmath (black76.json) to max(1e-12, 2e-15 (1 + d1^2))', () => {
  const { cases } = loadReference<Row>('black76.json');
  const misses = worst(
    cases,
    (c) =>
      black76Greeks({
        side: c.side,
        forward: c.forward,
        strike: c.strike,
        timeToExpiry: c.years,
        rate: c.rate,
        volatility: c.volatility,
      }),
    ['price', 'delta', 'gamma', 'vega', 'rho', 'dualDelta', 'probabilityItm'],
    (c) => Math.max(1e-12, 2e-15 * (1 + d1Of(c.forward, c) ** 2)),
  );
  expect(misses).toEqual([]);
});

test('the normal model agrees with mpmath (bachelier.json) to max(1e-12, 2e-15 (1 + d^2))', () => {
  const { cases } = loadReference<Row>('bachelier.json');
  const misses = worst(
    cases,
    (c) =>
      bachelierGreeks({
        side: c.side,
        forward: c.forward,
        strike: c.strike,
        timeToExpiry: c.years,
        rate: c.rate,
        normalVolatility: c.normalVolatility,
      }),
    ['price', 'delta', 'gamma', 'vega', 'rho', 'vanna', 'volga', 'dualDelta', 'probabilityItm'],
    (c) => Math.max(1e-12, 2e-15 * (1 + ((c.forward - c.strike) / (c.normalVolatility * Math.sqrt(c.years))) ** 2)),
  );
  expect(misses).toEqual([]);
});
