import fc from 'fast-check';
import { expect, test } from 'vitest';
import { empiricalStickiness, movedSmile, smileVolatility, sviRawSmile } from '../../src/surface/index.ts';

const SMILE = sviRawSmile({ a: 0.01, b: 0.08, rho: -0.5, m: 0.02, sigma: 0.2 }, 0.25);

test('sticky strike keeps the volatility of a strike, sticky moneyness that of its distance', () => {
  fc.assert(
    fc.property(
      fc.double({ min: -0.2, max: 0.2, noNaN: true }),
      fc.double({ min: -0.3, max: 0.3, noNaN: true }),
      (move, k) => {
        const strike = movedSmile(SMILE, { kind: 'sticky-strike' }, move);
        // The strike at k before the move lies at k - move after it.
        expect(smileVolatility(strike, k - move)).toBeCloseTo(smileVolatility(SMILE, k), 12);
        const moneyness = movedSmile(SMILE, { kind: 'sticky-moneyness' }, move);
        expect(smileVolatility(moneyness, k)).toBe(smileVolatility(SMILE, k));
        const ratio = { kind: 'empirical', ratio: 1 } as const;
        expect(smileVolatility(movedSmile(SMILE, ratio, move), k)).toBe(smileVolatility(strike, k));
      },
    ),
  );
});

test('the at-the-money volatility moves by ratio times skew times move, to first order', () => {
  const step = 1e-5;
  const skew = (smileVolatility(SMILE, step) - smileVolatility(SMILE, -step)) / (2 * step);
  const moved = movedSmile(SMILE, { kind: 'sticky-local-volatility' }, 1e-6);
  expect((smileVolatility(moved, 0) - smileVolatility(SMILE, 0)) / 1e-6 / skew).toBeCloseTo(2, 3);
});

test('a history made with a ratio gives the ratio back, and none without skew or days', () => {
  const prices = Array.from({ length: 60 }, (_, i) => 100 * Math.exp(0.03 * Math.sin(i * 1.7)));
  const days = prices.map((price, i) => ({ price, atm: 0.2, skew: -0.6 - 0.002 * i }));
  for (let i = 1; i < days.length; i++) {
    days[i].atm = days[i - 1].atm + 1.4 * days[i - 1].skew * Math.log(days[i].price / days[i - 1].price);
  }
  expect(empiricalStickiness(days)).toBeCloseTo(1.4, 10);
  expect(empiricalStickiness(days.slice(0, 8))).toBeNaN();
  expect(empiricalStickiness(days.map((d) => ({ ...d, skew: 0 })))).toBeNaN();
});
