import { expect, test } from 'vitest';
import {
  expectedAbsoluteMove,
  forwardStraddle,
  judgeSlice,
  probabilityAbove,
  riskNeutralDensity,
  smileQuantile,
  type SviRawParameters,
  sviRawSmile,
} from '../../src/surface/index.ts';
import { black76Price } from '../../src/pricing/index.ts';
import { loadReference } from '../reference/load.ts';

test('probability, density and expected move of a smile agree with mpmath (risk-neutral-density.json)', () => {
  interface Row {
    forward: number;
    years: number;
    parameters: SviRawParameters;
    points: { strike: number; probabilityAbove: number; density: number }[];
    expectedAbsoluteMove: number;
  }
  for (const c of loadReference<Row>('risk-neutral-density.json').cases) {
    const smile = sviRawSmile(c.parameters, c.years);
    for (const p of c.points) {
      const name = `${c.forward} ${p.strike}`;
      const k = Math.log(p.strike / c.forward);
      expect(Math.abs(probabilityAbove(smile, k) / p.probabilityAbove - 1), name).toBeLessThan(1e-12);
      expect(Math.abs(riskNeutralDensity(smile, c.forward, p.strike) / p.density - 1), name).toBeLessThan(1e-12);
    }
    expect(Math.abs(expectedAbsoluteMove(smile, c.forward) / c.expectedAbsoluteMove - 1)).toBeLessThan(1e-12);
  }
});

test('a quantile is where the probability below comes back to what was asked for', () => {
  interface Row {
    years: number;
    parameters: SviRawParameters;
  }
  for (const { parameters, years } of loadReference<Row>('risk-neutral-density.json').cases) {
    const smile = sviRawSmile(parameters, years);
    const quantiles = [0.05, 0.16, 0.25, 0.5, 0.75, 0.84, 0.95].map((share) => {
      const k = smileQuantile(smile, share);
      expect(Math.abs(1 - probabilityAbove(smile, k) - share)).toBeLessThan(1e-8);
      return k;
    });
    expect(quantiles).toEqual([...quantiles].sort((a, b) => a - b));
  }
  // A flat smile is lognormal: its middle stands half its variance below the forward.
  const flat = sviRawSmile({ a: 0.04, b: 0, rho: 0, m: 0, sigma: 0.1 }, 1);
  expect(smileQuantile(flat, 0.5)).toBeCloseTo(-0.02, 10);
  for (const share of [0, 1, NaN]) expect(smileQuantile(flat, share)).toBeNaN();
});

test('the straddle at the forward is that of the strikes beside it, and unknown where a quote is not good', () => {
  const [forward, years, volatility] = [101, 0.25, 0.3];
  const strikes = Float64Array.from([95, 100, 102, 105]);
  const price = (side: 'call' | 'put', half: number) =>
    strikes.map(
      (strike) => black76Price({ side, forward, strike, timeToExpiry: years, volatility, discountFactor: 1 }) + half,
    );
  const slice = {
    ...{ timeToExpiry: years, strikes },
    ...{ callBid: price('call', -0.02), callAsk: price('call', 0.02) },
    ...{ putBid: price('put', -0.02), putAsk: price('put', 0.02) },
  };
  const verdicts = judgeSlice(slice);
  const exact =
    2 * black76Price({ side: 'call', forward, strike: forward, timeToExpiry: years, volatility, discountFactor: 1 });
  const found = forwardStraddle(slice, verdicts, forward);
  // Straddles bend upward between strikes: a little more, by less than a twentieth.
  expect(found).toBeGreaterThan(exact);
  expect(found / exact).toBeLessThan(1.05);
  // On a strike it is that strike's own.
  expect(forwardStraddle(slice, verdicts, 100)).toBeCloseTo(slice.callBid[1] + slice.putBid[1] + 0.04, 12);
  const spoiled = { call: [...verdicts.call], put: [...verdicts.put] };
  spoiled.put[2] = 'stale';
  expect(forwardStraddle(slice, spoiled, forward)).toBeNaN();
  expect(forwardStraddle(slice, verdicts, 90)).toBeNaN();
  expect(forwardStraddle(slice, verdicts, 110)).toBeNaN();
});
