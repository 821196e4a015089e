import fc from 'fast-check';
import { expect, test } from 'vitest';
import { black76Price, type Side } from '../../src/pricing/index.ts';
import { deriveSurface, judgeAlone, type Slice, smileVolatility, sviRawSmile } from '../../src/surface/index.ts';

const SMILE = sviRawSmile({ a: 0.004, b: 0.03, rho: -0.4, m: 0.01, sigma: 0.12 }, 0.25);
const FORWARD = 100;
const DISCOUNT = 0.99;

/** Quotes on a known smile, a cent wide or 1.5 % of the price. */
function cleanSlice(): Slice {
  const strikes = Float64Array.from({ length: 31 }, (_, i) => 70 + 2 * i);
  const quote = (side: Side, sign: 1 | -1) =>
    strikes.map((strike) => {
      const volatility = smileVolatility(SMILE, Math.log(strike / FORWARD));
      const price = black76Price({
        side,
        forward: FORWARD,
        strike,
        timeToExpiry: 0.25,
        volatility,
        discountFactor: DISCOUNT,
      });
      const half = Math.max(0.01, 0.0075 * price);
      return Math.max(0, Math.round((price + sign * half) * 100) / 100);
    });
  return {
    timeToExpiry: 0.25,
    strikes,
    callBid: quote('call', -1),
    callAsk: quote('call', 1),
    putBid: quote('put', -1),
    putAsk: quote('put', 1),
  };
}

test('a quote by itself is crossed, without an offer, without a bid, too wide, or good', () => {
  expect(judgeAlone(2, 1)).toBe('crossed');
  expect(judgeAlone(2, 0)).toBe('no-ask');
  expect(judgeAlone(2, NaN)).toBe('no-ask');
  expect(judgeAlone(0, 1)).toBe('no-bid');
  expect(judgeAlone(NaN, NaN)).toBe('no-bid');
  expect(judgeAlone(0.1, 0.5)).toBe('too-wide');
  expect(judgeAlone(1, 1.1)).toBeUndefined();
  // A locked market is no error: both sides stand at one price.
  expect(judgeAlone(1, 1)).toBeUndefined();
});

test('clean quotes are never called faulty; one stale quote anywhere is, and nothing else, and the smile does not move', () => {
  const clean = deriveSurface({ slices: [cleanSlice()], spot: 99 }).expiries[0];
  expect([...clean.verdicts.call, ...clean.verdicts.put].filter((v) => v === 'stale')).toEqual([]);
  expect(clean.forward.forward).toBeCloseTo(FORWARD, 1);
  expect(Math.abs((clean.measures?.atm ?? NaN) - smileVolatility(SMILE, 0))).toBeLessThan(0.0005);
  fc.assert(
    fc.property(
      fc.constantFrom<Side>('call', 'put'),
      fc.nat(30),
      fc.constantFrom(0.55, 1.4, 1.9),
      (side, index, factor) => {
        const slice = cleanSlice();
        const [bid, ask] = side === 'call' ? [slice.callBid, slice.callAsk] : [slice.putBid, slice.putAsk];
        fc.pre(bid[index] > 0.3);
        bid[index] *= factor;
        ask[index] *= factor;
        const [expiry] = deriveSurface({ slices: [slice], spot: 99 }).expiries;
        const stale = (['call', 'put'] as const).flatMap((s) =>
          expiry.verdicts[s].flatMap((v, i) => (v === 'stale' ? [`${s}${i}`] : [])),
        );
        expect(stale).toEqual([`${side}${index}`]);
        expect(Math.abs((expiry.measures?.atm ?? NaN) - smileVolatility(SMILE, 0))).toBeLessThan(0.0006);
      },
    ),
    { numRuns: 40 },
  );
});

test('a quote put back by hand is fitted again', () => {
  const slice = cleanSlice();
  slice.callBid[20] *= 1.9;
  slice.callAsk[20] *= 1.9;
  const judged = deriveSurface({ slices: [slice], spot: 99 }).expiries[0];
  expect(judged.verdicts.call[20]).toBe('stale');
  const restored = deriveSurface({
    slices: [slice],
    spot: 99,
    restored: [[{ side: 'call', strike: slice.strikes[20] }]],
  }).expiries[0];
  expect(restored.verdicts.call[20]).toBeUndefined();
  expect(restored.smile?.rmse).toBeGreaterThan(3 * (judged.smile?.rmse ?? 0));
});

test('columns of another length, or strikes that do not ascend, are refused', () => {
  const slice = cleanSlice();
  expect(() => deriveSurface({ slices: [{ ...slice, callBid: new Float64Array(3) }], spot: 99 })).toThrow('callBid');
  expect(() => deriveSurface({ slices: [{ ...slice, strikes: slice.strikes.slice().reverse() }], spot: 99 })).toThrow(
    'strikes',
  );
});
