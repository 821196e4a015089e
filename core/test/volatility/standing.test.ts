import { expect, test } from 'vitest';
import { standing } from '../../src/volatility/index.ts';
import { calendarYears, isMonthlyExpiry, monthlyExpiry } from '../../src/time/index.ts';
import { forwardVolatility, termShape, termVolatility } from '../../src/surface/index.ts';

test('rank of 40 between 10 and 70 is a half; percentile is the share of lower days (common practice, no source)', () => {
  expect(standing(40, [10, 70, 20])).toMatchObject({ rank: 0.5, percentile: 2 / 3, count: 3 });
  // One spike moves the rank, not the percentile.
  expect(standing(20, [10, 12, 14, 16, 18, 90])).toMatchObject({ rank: 0.125, percentile: 5 / 6 });
  expect(standing(20, [10])).toBeUndefined();
});

test('time is counted in minutes of a 365-day year, and the third Friday is the monthly expiry', () => {
  expect(calendarYears(Date.UTC(2031, 2, 14, 13), Date.UTC(2031, 2, 21, 16, 30))).toBeCloseTo(
    (7 * 1440 + 210) / 525600,
    15,
  );
  expect(monthlyExpiry(2031, 3)).toEqual({ year: 2031, month: 3, day: 21 });
  expect(isMonthlyExpiry({ year: 2031, month: 3, day: 28 })).toBe(false);
});

test('between expiries total variance is linear, and a falling one has no forward volatility', () => {
  const points = [
    { timeToExpiry: 0.1, volatility: 0.3 },
    { timeToExpiry: 0.3, volatility: 0.2 },
  ];
  expect(termVolatility(points, 0.2) ** 2 * 0.2).toBeCloseTo((0.009 + 0.012) / 2, 15);
  expect(termVolatility(points, 1)).toBe(0.2);
  const between = forwardVolatility(points[0], points[1]);
  expect(between.ok && between.volatility ** 2 * 0.2).toBeCloseTo(0.003, 15);
  expect(forwardVolatility(points[0], { timeToExpiry: 0.2, volatility: 0.1 })).toEqual({
    ok: false,
    reason: 'negative-variance',
  });
});

test('a term structure is named by slope and humps', () => {
  const line = (...volatilities: number[]) =>
    volatilities.map((volatility, i) => ({ timeToExpiry: (i + 1) * (30 / 365), volatility }));
  expect(termShape(line(0.2, 0.21, 0.22)).name).toBe('contango');
  expect(termShape(line(0.22, 0.21, 0.2)).name).toBe('backwardation');
  expect(termShape(line(0.2, 0.201, 0.203)).name).toBe('flat');
  expect(termShape(line(0.2, 0.23, 0.2)).name).toBe('humped');
  // Rises and falls over several expiries, none of which stands a point above its neighbours.
  expect(termShape(line(0.25, 0.28, 0.3, 0.305, 0.3, 0.28)).name).toBe('humped');
  expect(termShape(line(0.25, 0.28, 0.3, 0.305, 0.304, 0.3)).name).toBe('contango');
});
