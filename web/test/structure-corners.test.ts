import fc from 'fast-check';
import { expect, test } from 'vitest';
import { structureRequest, structureResponse } from '../src/lib/api/structure.ts';
import { evaluateByNumbers } from '../src/lib/theory/index.ts';
import { workbookOf } from '../src/lib/server/exports/workbook.ts';

/* The corners of what may be asked: everything that the schemas allow is answered as the schemas promise. */

const corner = <T>(...values: T[]) => fc.constantFrom(...values);
const leg = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record(
      {
        ...{ kind: corner('option' as const), side: corner('call' as const, 'put' as const) },
        ...{ strike: corner(5e-324, 1e-6, 90, 100, 1e12), years: corner(0, 2e-264, 1e-9, 0.3, 1, 100, 136, 200) },
        ...{
          quantity: corner(1, -1, -2, 1e9, 0, -3e-262),
          price: corner(0, 5e-15, 1, -1e12, 1e12),
          volatility: corner(0, 6e-48, 0.2, 20),
        },
      },
      { requiredKeys: ['kind', 'side', 'strike', 'years', 'quantity', 'price'] },
    ),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: corner('underlying' as const),
      quantity: corner(1, -1, 1e9, 9e-262),
      price: corner(0, 100, -1e12, 1e12),
    }),
  },
);
const asked = fc.record({
  ...{
    underlying: corner(4e-323, 1e-6, 1, 100, 1e12),
    rate: corner(-1, 0, 0.05, 5),
    dividendYield: corner(-5, -4e-323, 0, 5),
  },
  ...{ volatility: corner(0, 2e-290, 1e-9, 0.2, 5, 20), multiplier: corner(1, 1e9, 1e-9, 3e-285) },
  legs: fc.array(leg, { minLength: 1, maxLength: 4 }),
});

test('a structure at any corner of volatility, time, rate and price is answered as promised', () => {
  fc.assert(
    fc.property(asked, (said) => {
      const request = structureRequest.parse(said);
      if ('symbol' in request) throw new Error('asked by numbers');
      const answer = structureResponse.parse(JSON.parse(JSON.stringify(evaluateByNumbers(request))));
      expect(answer.probabilityOfProfit).toBeGreaterThanOrEqual(0);
      expect(answer.probabilityOfProfit).toBeLessThanOrEqual(1);
      for (const price of answer.breakEvens) expect(price).toBeGreaterThanOrEqual(0);
    }),
    { numRuns: 400 },
  );
});

test('a table becomes a workbook under any name', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.oneof(
        fc.string({ minLength: 1, maxLength: 80 }),
        fc.array(corner("'", '*', '/', ' ', 'a'), { minLength: 1, maxLength: 40 }).map((l) => l.join('')),
      ),
      async (name) => {
        const bytes = await workbookOf({ name, header: ['a'], rows: [[1]] });
        expect(bytes.length).toBeGreaterThan(1000);
      },
    ),
    { numRuns: 60, examples: [["it's'"], ["'"], ["'".repeat(40)], ['History']] },
  );
});
