import { expect, test } from 'vitest';
import { gaussLegendre } from '../../src/math/index.ts';
import { black76Price } from '../../src/pricing/index.ts';
import {
  deriveSurface,
  type Slice,
  smileVariance,
  sviRawSmile,
  type SviRawParameters,
} from '../../src/surface/index.ts';

const smileOf = (timeToExpiry: number, scale = 1): [SviRawParameters, number] => [
  { a: 0.01 * timeToExpiry * scale, b: 0.06 * Math.sqrt(timeToExpiry), rho: -0.5, m: 0.02, sigma: 0.12 },
  timeToExpiry,
];

test('the variance of a flat smile is its square, and of any other the integral over all strikes', () => {
  const flat = { timeToExpiry: 0.3, totalVariance: () => 0.3 * 0.04, slope: () => 0, curvature: () => 0 };
  expect(smileVariance(flat, [-0.5, 0.5])?.variance).toBeCloseTo(0.04, 12);
  for (const time of [0.05, 0.25, 1]) {
    const [parameters] = smileOf(time);
    const smile = sviRawSmile(parameters, time);
    // Demeterfi, Derman, Kamal & Zou (1999), equation 26 with the forward at 1: 2 / T times the out-of-the-money options / K^2.
    let strip = 0;
    const { nodes, weights } = gaussLegendre(64);
    for (let low = -8; low < 8; low += 0.05) {
      nodes.forEach((node, i) => {
        const k = low + 0.025 * (node + 1);
        const strike = Math.exp(k);
        const volatility = Math.sqrt(smile.totalVariance(k) / time);
        const side = k < 0 ? ('put' as const) : ('call' as const);
        const price = black76Price({ side, forward: 1, strike, timeToExpiry: time, volatility, discountFactor: 1 });
        strip += 0.025 * weights[i] * (price / strike);
      });
    }
    const found = smileVariance(smile, [-0.3, 0.2]);
    expect(Math.abs((found?.variance ?? 0) / ((2 * strip) / time) - 1), `${time}`).toBeLessThan(1e-8);
    expect(found?.beyond).toBeGreaterThan(0);
    expect(found?.beyond).toBeLessThan(1);
  }
});

const STRIKES = Float64Array.from({ length: 33 }, (_, i) => 68 + 2 * i);
const TIMES = [20 / 365, 48 / 365, 110 / 365];

/** Quotes of a tenth either side of a smile's prices, a price of nothing without a bid. */
function sliceOf(time: number): Slice {
  const [parameters] = smileOf(time);
  const smile = sviRawSmile(parameters, time);
  const column = (side: 'call' | 'put', width: number) =>
    Float64Array.from(STRIKES, (strike) => {
      const volatility = Math.sqrt(smile.totalVariance(Math.log(strike / 100)) / time);
      const price = black76Price({ side, forward: 100, strike, timeToExpiry: time, volatility, discountFactor: 1 });
      return Math.max(0, Math.round(100 * (price + width * Math.max(0.01, 0.02 * price))) / 100);
    });
  return {
    timeToExpiry: time,
    strikes: STRIKES,
    callBid: column('call', -1),
    callAsk: column('call', 1),
    putBid: column('put', -1),
    putAsk: column('put', 1),
  };
}
const slices = () => TIMES.map(sliceOf);
const surfaceOf = (list: Slice[]) => deriveSurface({ slices: list, spot: 100, rates: list.map(() => 0) });

/** What can be wrong with a quote. */
const FAULTS: Record<string, (bid: number, ask: number) => [number, number]> = {
  crossed: (bid, ask) => [ask + 0.5, bid],
  'without an offer': (bid) => [bid, NaN],
  'with an offer of nothing': (bid) => [bid, 0],
  'far too wide': (bid, ask) => [bid, 20 * ask],
  stale: (bid, ask) => [1.8 * bid + 0.4, 1.8 * ask + 0.4],
  'left out': () => [NaN, NaN],
};

test.each(Object.keys(FAULTS))(
  'a quote that is %s moves the index no more than leaving it out, the completed one hardly',
  (kind) => {
    const clean = surfaceOf(slices());
    if (clean.index30 === null || clean.index30Completed === null) throw new Error('no index');
    const withQuote = (i: number, fault: (bid: number, ask: number) => [number, number]) => {
      const list = slices();
      const [near] = list;
      const side = STRIKES[i] < 100 ? ([near.putBid, near.putAsk] as const) : ([near.callBid, near.callAsk] as const);
      [side[0][i], side[1][i]] = fault(side[0][i], side[1][i]);
      return surfaceOf(list);
    };
    let tried = 0;
    for (let i = 4; i < STRIKES.length - 4; i++) {
      const [near] = slices();
      const bid = STRIKES[i] < 100 ? near.putBid[i] : near.callBid[i];
      // What is worth next to nothing may be as wide as it is dear.
      if (!(bid >= 0.1)) continue;
      tried++;
      const bad = withQuote(i, FAULTS[kind]);
      const without = withQuote(i, FAULTS['left out']);
      const moved = Math.abs((bad.index30 ?? NaN) - clean.index30);
      const least = Math.abs((without.index30 ?? NaN) - clean.index30);
      expect(moved, `${kind} ${STRIKES[i]}`).toBeLessThanOrEqual(least + 1e-9);
      expect(Math.abs((bad.index30Completed ?? NaN) - clean.index30Completed), `${kind} ${STRIKES[i]}`).toBeLessThan(
        5e-4,
      );
    }
    expect(tried).toBeGreaterThan(8);
  },
);

test('where quotes end early the completed index is empty, and the strip says what it holds', () => {
  const narrow = slices().map((s) => {
    const keep = Array.from(STRIKES, (k, i) => [k, i] as const).filter(([k]) => Math.abs(k - 100) <= 4);
    const pick = (column: Float64Array) => Float64Array.from(keep, ([, i]) => column[i]);
    return {
      ...s,
      strikes: pick(s.strikes),
      callBid: pick(s.callBid),
      callAsk: pick(s.callAsk),
      putBid: pick(s.putBid),
      putAsk: pick(s.putAsk),
    };
  });
  const surface = surfaceOf(narrow);
  expect(surface.index30Completed).toBeNull();
  expect(surface.index30).not.toBeNull();
});

test('fewer than five quotes make a level and no skew, at the expiry and between it and the next', () => {
  const [near, next, far] = slices();
  const few = { ...near };
  for (const column of ['callBid', 'callAsk', 'putBid', 'putAsk'] as const)
    few[column] = near[column].map((value, i) => ([14, 16, 18].includes(i) ? value : NaN));
  const surface = surfaceOf([few, next, far]);
  const [level, smile] = surface.expiries.map((e) => e.measures);
  expect(level?.atm).toBeGreaterThan(0.05);
  for (const name of ['riskReversal25', 'butterfly25', 'riskReversal10', 'butterfly10'] as const)
    expect(level?.[name]).toBeNaN();
  expect(smile?.riskReversal25).toBeLessThan(0);
  expect(surface.volatility?.constantMaturity(30 / 365).riskReversal25).toBeNaN();
  expect(surface.volatility?.constantMaturity(30 / 365).atm).toBeGreaterThan(0.05);
  expect(surface.volatility?.constantMaturity(80 / 365).riskReversal25).toBeLessThan(0);
});
