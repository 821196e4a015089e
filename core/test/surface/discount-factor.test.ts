import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { black76Price, type Side } from '../../src/pricing/index.ts';
import { deriveSurface, type Slice } from '../../src/surface/index.ts';
import { ratePrior } from '../../src/surface/rate-prior.ts';

/* The discount factor: what the pairs of an expiry say, weighed with the curve, the chain's spread and the other expiries. */

/** European quotes at 20 %, each off by a drawn share of its half width. */
function quotes(o: { years: number; rate: number; halfWidth: number; noise?: number; spot?: number }): Slice {
  const { years: timeToExpiry, rate, halfWidth, noise = 0, spot = 100 } = o;
  const forward = spot * Math.exp(rate * timeToExpiry);
  const reach = Math.max(0.03, 0.45 * Math.sqrt(timeToExpiry));
  const strikes = Float64Array.from({ length: 31 }, (_, i) => spot * (1 - reach + (2 * reach * i) / 30));
  let state = 12345;
  const drawn = () => ((state = (state * 1103515245 + 12345) % 2147483648) / 2147483648) * 2 - 1;
  const side = (of: Side) => {
    const mid = strikes.map((strike) => {
      const value = black76Price({
        side: of,
        forward,
        strike,
        timeToExpiry,
        volatility: 0.2,
        discountFactor: Math.exp(-rate * timeToExpiry),
      });
      return value + noise * halfWidth * drawn();
    });
    return [mid.map((m) => Math.max(0.001, m - halfWidth)), mid.map((m) => m + halfWidth)];
  };
  const [callBid, callAsk] = side('call');
  const [putBid, putAsk] = side('put');
  return { timeToExpiry, strikes, callBid, callAsk, putBid, putAsk };
}

const rates = (o: { slices: Slice[]; rates?: number[] }) =>
  deriveSurface({ spot: 100, ...o }).expiries.map((e) => -Math.log(e.forward.discountFactor) / e.slice.timeToExpiry);
const YEARS = [3 / 8760, 7 / 365, 35 / 365, 182 / 365, 1];

describe('with a curve', () => {
  test('no expiry is off by a point, whatever the noise of short or wide quotes', () => {
    for (const halfWidth of [0.02, 0.1, 0.5]) {
      const slices = YEARS.map((years) => quotes({ years, rate: 0.03, halfWidth, noise: 1 }));
      const alone = deriveSurface({ spot: 100, slices }).expiries[0].forward.parityAlone;
      // What the pairs alone say of three hours is nothing.
      expect(Math.abs(-Math.log(alone?.discountFactor ?? 1) / YEARS[0] - 0.03)).toBeGreaterThan(0.05);
      for (const rate of rates({ slices, rates: YEARS.map(() => 0.03) }))
        expect(Math.abs(rate - 0.03)).toBeLessThan(0.01);
    }
  });

  test('financing dearer than the curve for the whole chain is found by the far expiries and used by the near ones', () => {
    const slices = YEARS.map((years) => quotes({ years, rate: 0.045, halfWidth: 0.03, noise: 1 }));
    const found = rates({ slices, rates: YEARS.map(() => 0.03) });
    for (const rate of found) expect(Math.abs(rate - 0.045)).toBeLessThan(0.004);
  });

  test('a very wide market moves the factor by no more than the rate may be off', () => {
    // Was off by 0.17 although a rate was given.
    const slices = [1, 2].map((years) => quotes({ years, rate: 0.03, halfWidth: 8, noise: 1 }));
    const { expiries } = deriveSurface({ spot: 100, slices, rates: [0.03, 0.03] });
    expiries.forEach(({ forward }, i) => {
      const years = i + 1;
      expect(Math.abs(forward.discountFactor - Math.exp(-0.03 * years))).toBeLessThan(0.015 * years);
    });
  });

  test('the narrower the quotes, the more the pairs count, until they alone decide', () => {
    const shares = [1, 0.1, 0.01, 0.0001].map((halfWidth) => {
      const slice = quotes({ years: 0.5, rate: 0.05, halfWidth });
      const { forward } = deriveSurface({ spot: 100, slices: [slice], rates: [0.03] }).expiries[0];
      const { parityShare: p, parityAlone, prior, discountFactor } = forward;
      // What Workings say: each side by its share.
      expect(p * (parityAlone?.discountFactor ?? NaN) + (1 - p) * (prior?.discountFactor ?? NaN)).toBeCloseTo(
        discountFactor,
        9,
      );
      return p;
    });
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares[0]).toBeLessThan(0.2);
    expect(shares[3]).toBeGreaterThan(0.999);
  });
});

test('without a curve the far expiries tell the near ones their rate, and a lone expiry has only its own pairs', () => {
  const slices = YEARS.map((years) => quotes({ years, rate: 0.06, halfWidth: 0.03, noise: 1 }));
  for (const rate of rates({ slices })) expect(Math.abs(rate - 0.06)).toBeLessThan(0.008);
  // A lone expiry of a week hardly knows its rate and says so; it takes what rates usually are rather than what noise says.
  const [lone] = deriveSurface({ spot: 100, slices: [slices[1]] }).expiries;
  const { parityAlone, discountFactor, discountFactorError } = lone.forward;
  const rate = (factor: number) => -Math.log(factor) / YEARS[1];
  expect(discountFactorError / YEARS[1]).toBeGreaterThan(0.005);
  const [nearer, farther] = [discountFactor, parityAlone?.discountFactor ?? NaN].map((d) => Math.abs(rate(d) - 0.03));
  expect(nearer).toBeLessThan(farther);
});

test('one expiry that contradicts the others does not turn their common spread over', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -0.01, max: 0.01, noNaN: true }),
      fc.double({ min: 0.05, max: 0.5, noNaN: true }),
      (spread, wrong) => {
        const others = [0.5, 1, 1.5, 2].map((timeToExpiry) => ({
          timeToExpiry,
          rate: 0.03,
          alone: { discountFactor: Math.exp(-(0.03 + spread) * timeToExpiry), error: 1e-4 * timeToExpiry },
        }));
        const bad = { timeToExpiry: 1.2, rate: 0.03, alone: { discountFactor: Math.exp(-wrong * 1.2), error: 1e-4 } };
        const prior = ratePrior(0.03, [...others, bad]);
        expect(Math.abs(prior.rate - 0.03 - spread)).toBeLessThan(0.005);
      },
    ),
  );
  expect(ratePrior(undefined, []).error).toBeGreaterThan(0.04);
});
