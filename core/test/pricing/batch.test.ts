import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  blackScholesMertonGreeks,
  blackScholesMertonPrice,
  europeanColumns,
  europeanGreeksInto,
  europeanPriceInto,
  europeanSliceGreeksInto,
  firstGreeksColumns,
  type Greeks,
  greeksColumns,
  IMPLIED_VOLATILITY_STATUS,
  impliedVolatility,
  impliedVolatilityInto,
  setEuropeanRow,
  type Side,
} from '../../src/pricing/index.ts';
import { fastImpliedDeviation } from '../../src/pricing/implied-deviation-fast.ts';
import { impliedDeviationKernel } from '../../src/pricing/implied-deviation.ts';
import { blackPriceKernel } from '../../src/pricing/black-kernel.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
/** Ordinary contracts, and those that leave the kernel's limits on every side. */
const contract = fc.record({
  side: fc.constantFrom<Side>('call', 'put'),
  spot: fc.oneof(number(50, 150), number(1e-300, 1e300)),
  strike: fc.oneof(number(50, 150), number(1e-300, 1e300)),
  timeToExpiry: fc.oneof(number(0.001, 3), fc.constantFrom(0, 1e-9, 60)),
  rate: fc.oneof(number(-0.02, 0.1), fc.constantFrom(0, 2)),
  dividendYield: fc.oneof(number(-0.02, 0.1), fc.constantFrom(0, -2)),
  volatility: fc.oneof(number(0.02, 1), fc.constantFrom(0, 1e-6, 20)),
});
const contracts = fc.sample(contract, { numRuns: 700, seed: 41 });

function columnsOf(rows: typeof contracts) {
  const columns = europeanColumns(rows.length);
  rows.forEach((row, i) => {
    columns.isCall[i] = row.side === 'call' ? 1 : 0;
    setEuropeanRow(columns, i, row);
  });
  return columns;
}

test('European batches give the bits of the scalar functions, within the kernel and beyond its limits', () => {
  const columns = columnsOf(contracts);
  const prices = new Float64Array(contracts.length);
  expect(europeanPriceInto(prices, columns)).toBe(0);
  expect(Array.from(prices)).toEqual(contracts.map((c) => blackScholesMertonPrice(c)));
  const all = greeksColumns(contracts.length);
  const first = firstGreeksColumns(contracts.length);
  europeanGreeksInto(all, columns);
  europeanGreeksInto(first, columns);
  const expected = contracts.map((c) => blackScholesMertonGreeks(c));
  for (const [name, column] of Object.entries(all)) {
    expect(Array.from(column), name).toEqual(expected.map((g) => g[name as keyof Greeks]));
  }
  for (const [name, column] of Object.entries(first)) {
    expect(Array.from(column), name).toEqual(expected.map((g) => g[name as keyof Greeks]));
  }
});

test('a slice gives both sides the bits of the scalar function, short dates and far strikes included', () => {
  const strike = Float64Array.from({ length: 300 }, (_, k) => 20 + k);
  const volatility = strike.map((K) => 0.2 + 0.1 * (K / 100 - 1) ** 2);
  for (const timeToExpiry of [1 / 8760, 7 / 365, 1]) {
    const slice = { spot: 100, timeToExpiry, rate: 0.04, dividendYield: 0.015, strike, volatility };
    const [call, put] = [firstGreeksColumns(300), firstGreeksColumns(300)];
    expect(europeanSliceGreeksInto(call, put, slice)).toBe(0);
    for (const [side, out] of [
      ['call', call],
      ['put', put],
    ] as const) {
      const expected = Array.from(strike, (K, i) =>
        blackScholesMertonGreeks({ ...slice, side, strike: K, volatility: volatility[i] }),
      );
      for (const [name, column] of Object.entries(out)) {
        expect(Array.from(column), `${side} ${name}`).toEqual(expected.map((g) => g[name as keyof Greeks]));
      }
    }
  }
});

test('rows outside the ranges are NaN and counted; columns of different length are refused', () => {
  const columns = columnsOf(contracts.slice(0, 5));
  columns.strike[1] = -1;
  columns.volatility[3] = NaN;
  const out = new Float64Array(5);
  expect(europeanPriceInto(out, columns)).toBe(2);
  expect(Array.from(out, Number.isNaN)).toEqual([false, true, false, true, false]);
  expect(() => europeanPriceInto(new Float64Array(4), columns)).toThrow('one length');
});

test('implied volatilities in a batch give the bits of the scalar function, and name every failure', () => {
  const rows = contracts.map((c, i) => {
    const option = {
      side: c.side,
      forward: c.spot,
      strike: c.strike,
      timeToExpiry: c.timeToExpiry,
      discountFactor: 0.97,
    };
    const price = [NaN, Infinity, -1, 0][i % 40] ?? 0.97 * blackScholesMertonPrice({ ...c, rate: 0, dividendYield: 0 });
    return { ...option, price };
  });
  const column = (name: 'forward' | 'strike' | 'timeToExpiry' | 'discountFactor' | 'price') =>
    Float64Array.from(rows, (r) => r[name]);
  const out = new Float64Array(rows.length);
  const status = new Uint8Array(rows.length);
  impliedVolatilityInto(out, status, {
    isCall: Uint8Array.from(rows, (r) => (r.side === 'call' ? 1 : 0)),
    forward: column('forward'),
    strike: column('strike'),
    timeToExpiry: column('timeToExpiry'),
    discountFactor: column('discountFactor'),
    price: column('price'),
  });
  const seen = new Set<string>();
  rows.forEach((row, i) => {
    const result = impliedVolatility(row);
    const name = IMPLIED_VOLATILITY_STATUS[status[i]];
    seen.add(name);
    expect(name).toBe(result.ok ? 'ok' : result.reason);
    expect(out[i]).toBe(result.ok ? result.volatility : NaN);
  });
  expect(seen.size).toBeGreaterThanOrEqual(4);
});

test('the quick inversion agrees with the general one, and both with the price they invert', () => {
  fc.assert(
    fc.property(number(0.003, 5), number(1e-9, 1), (s, share) => {
      // From at the money to 30 deviations away.
      const x = -share * Math.min(30 * s, 20);
      const bound = Math.exp(0.5 * x);
      const beta = blackPriceKernel(1, bound, 1 / bound, x, s);
      fc.pre(beta > 1e-200 && beta < 0.999 * bound);
      const general = impliedDeviationKernel(beta, Math.log(beta), x);
      const quick = fastImpliedDeviation(beta, x, bound);
      const slope = 0.3989422804014327 * Math.exp(-0.5 * ((x / s) ** 2 + (0.5 * s) ** 2));
      // One rounding of the price, of x and of the bound each.
      const attainable = (2.3e-16 * (beta + bound * 1e-1) * (1 + (x / s) ** 2)) / (slope * s);
      expect(Math.abs(general / s - 1)).toBeLessThan(Math.max(1e-13, 8 * attainable));
      if (!Number.isNaN(quick)) expect(Math.abs(quick / general - 1)).toBeLessThan(Math.max(1e-13, 8 * attainable));
    }),
    { numRuns: 3000 },
  );
});

test('the price is continuous across the branches of the normalised Black function', () => {
  const at = (spot: number, s: number) =>
    blackScholesMertonPrice({
      side: 'call',
      spot,
      strike: 100,
      timeToExpiry: 1,
      rate: 0,
      dividendYield: 0,
      volatility: s,
    });
  // The limits of the series, of the kernel, and the change of the tail's sign at ln(S / K) = s^2 / 2.
  for (const s of [1e-6, 0.04, 10]) {
    for (const spot of [100, 100 * Math.exp(-2 * s), 100 * Math.exp(-0.5 * s * s)]) {
      const [below, above] = [at(spot, s * (1 - 1e-15)), at(spot, s * (1 + 1e-15))];
      expect(Math.abs(above - below)).toBeLessThanOrEqual(2e-13 * above);
    }
  }
  for (const s of [0.05, 0.3, 2]) {
    const kink = 100 * Math.exp(-0.5 * s * s);
    const [below, above] = [at(kink * (1 - 1e-15), s), at(kink * (1 + 1e-15), s)];
    expect(Math.abs(above - below)).toBeLessThanOrEqual(1e-13 * above);
  }
});
