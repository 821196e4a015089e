import fc from 'fast-check';
import { expect, test } from 'vitest';
import { deriveSurface } from '../../src/surface/index.ts';

/* Chains that no market would quote, of several expiries, with and without a curve: there is a surface, and no exception. */

const price = fc.oneof(fc.double({ min: 0, max: 80, noNaN: true }), fc.constantFrom(0, 0.01, NaN, 1e6));
const expiry = fc.record({
  quotes: fc.array(fc.tuple(price, price, price, price), { minLength: 1, maxLength: 12 }),
  gap: fc.double({ min: 1e-4, max: 0.8, noNaN: true }),
});

test('whatever American quotes come, forwards are positive, errors are no less than nothing, premiums are finite', () => {
  fc.assert(
    fc.property(
      fc.array(expiry, { minLength: 1, maxLength: 5 }),
      fc.option(fc.double({ min: -0.05, max: 0.3, noNaN: true }), { nil: undefined }),
      fc.double({ min: -0.4, max: 2, noNaN: true }),
      fc.array(
        fc.record({
          time: fc.double({ min: 1e-3, max: 2, noNaN: true }),
          amount: fc.double({ min: 0, max: 150, noNaN: true }),
        }),
        {
          maxLength: 3,
        },
      ),
      fc.boolean(),
      (expiries, rate, dividendYield, paid, isCarryGiven) => {
        let time = 0;
        const slices = expiries.map(({ quotes, gap }) => ({
          timeToExpiry: (time += gap),
          strikes: Float64Array.from(quotes, (_, i) => 60 + 8 * i),
          callBid: Float64Array.from(quotes, (q) => q[0]),
          callAsk: Float64Array.from(quotes, (q) => q[1]),
          putBid: Float64Array.from(quotes, (q) => q[2]),
          putAsk: Float64Array.from(quotes, (q) => q[3]),
        }));
        const surface = deriveSurface({
          spot: 100,
          slices,
          isCarryGiven,
          carries: slices.map(({ timeToExpiry }) => ({
            ...(rate === undefined ? {} : { rate }),
            dividendYield,
            dividends: paid.filter((d) => d.time < timeToExpiry),
            exercise: 'american' as const,
          })),
        });
        for (const e of surface.expiries) {
          expect(e.forward.forward).toBeGreaterThan(0);
          if (e.forward.source === 'parity') expect(e.forward.forwardError).toBeGreaterThanOrEqual(0);
          for (const side of ['call', 'put'] as const)
            expect(e.premium?.[side].every((v) => v >= 0 && Number.isFinite(v))).toBe(true);
        }
      },
    ),
    { numRuns: process.env.SOAK ? 2000 : 150 },
  );
});
