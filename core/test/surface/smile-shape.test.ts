import { expect, test } from 'vitest';
import { smileShapeName, smileSpan, sviRawSmile } from '../../src/surface/index.ts';

/* Names by the rules of the design; no source beyond them. */

const named = (o: { a: number; b: number; rho: number; m?: number; sigma: number }, range: [number, number]) => {
  const smile = sviRawSmile({ m: 0, ...o }, 0.1);
  return smileSpan(smile, range);
};
const flatNear = { atm: 0.2, riskReversal25: 0.001, butterfly25: 0.001 };

test('a smile is named by its dearer side, then by its bend, and is flat only if it is so across its quotes', () => {
  expect(smileShapeName({ atm: 0.2, riskReversal25: -0.03, butterfly25: 0.004 })).toBe('downside');
  expect(smileShapeName({ atm: 0.2, riskReversal25: 0.03, butterfly25: 0.004 })).toBe('upside');
  expect(smileShapeName({ ...flatNear, butterfly25: 0.004 })).toBe('symmetric smile');
  expect(smileShapeName(flatNear)).toBe('flat');
  expect(smileShapeName({ ...flatNear, riskReversal25: NaN })).toBeUndefined();

  // The same near the money, with wings that rise: even on both sides, or on one.
  const even = named({ a: 0.002, b: 0.02, rho: 0, sigma: 0.1 }, [-0.6, 0.6]);
  expect(even.width).toBeGreaterThan(0.03);
  expect(even.ends[0]).toBeCloseTo(even.ends[1], 12);
  expect(smileShapeName(flatNear, even)).toBe('symmetric smile');
  const left = named({ a: 0.002, b: 0.02, rho: -0.9, sigma: 0.1 }, [-0.6, 0.6]);
  expect(smileShapeName(flatNear, left)).toBe('downside');
  const right = named({ a: 0.002, b: 0.02, rho: 0.9, sigma: 0.1 }, [-0.6, 0.6]);
  expect(smileShapeName(flatNear, right)).toBe('upside');
  // Few quotes around the money say no more than that.
  expect(smileShapeName(flatNear, named({ a: 0.002, b: 0.02, rho: 0, sigma: 0.1 }, [-0.02, 0.02]))).toBe('flat');
});
