import fc from 'fast-check';
import { expect, test } from 'vitest';
import { blackScholesMertonPrice, type Option } from '../../src/pricing/index.ts';
import { earlyAssignment } from '../../src/structure/index.ts';

const call = (o: Partial<Option>): Option => ({
  ...{ side: 'call', exercise: 'american', model: 'spot', underlying: 100, strike: 80, timeToExpiry: 0.25 },
  ...{ rate: 0.02, dividendYield: 0, volatility: 0.2, dividends: [{ time: 0.2, amount: 2 }] },
  ...o,
});

test('with one dividend left the call after it is European: exercise before is worth what it exceeds that by', () => {
  const drawn = fc.record({
    strike: fc.double({ min: 60, max: 110, noNaN: true }),
    volatility: fc.double({ min: 0.05, max: 0.6, noNaN: true }),
    rate: fc.double({ min: 0, max: 0.08, noNaN: true }),
    amount: fc.double({ min: 0.1, max: 6, noNaN: true }),
    time: fc.double({ min: 0.01, max: 0.24, noNaN: true }),
  });
  fc.assert(
    fc.property(drawn, ({ strike, volatility, rate, amount, time }) => {
      const found = earlyAssignment(call({ strike, volatility, rate, dividends: [{ time, amount }] }));
      // Without dividends an American call is a European one (Merton 1973).
      const held = blackScholesMertonPrice({
        ...{ side: 'call', spot: 100 - amount, strike, rate, dividendYield: 0, volatility, timeToExpiry: 0.25 - time },
      });
      const gain = 100 - strike - held;
      fc.pre(Math.abs(gain) > 0.01);
      if (gain < 0) expect(found).toBeUndefined();
      else expect(found?.gain).toBeCloseTo(gain, 3);
    }),
  );
});

test('the first ex-date before which it pays is named; of a put, a European call, one out of the money none', () => {
  const two = {
    dividends: [
      { time: 0.21, amount: 3 },
      { time: 0.01, amount: 0.05 },
    ],
  };
  expect(earlyAssignment(call(two))).toMatchObject({ time: 0.21, amount: 3 });
  expect(earlyAssignment(call({ side: 'put' }))).toBeUndefined();
  expect(earlyAssignment(call({ exercise: 'european' }))).toBeUndefined();
  expect(earlyAssignment(call({ strike: 120 }))).toBeUndefined();
  expect(earlyAssignment(call({ dividends: [{ time: 0.3, amount: 5 }] }))).toBeUndefined();
});
