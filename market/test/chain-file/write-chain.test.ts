import fc from 'fast-check';
import { expect, test } from 'vitest';
import { detectColumns, isProblem, readChain, writeChain, type WrittenQuote } from '../../src/chain-file/index.ts';
import { fileInMemory, firstRows } from '../../src/table-file/index.ts';
import type { TableFormat } from '../../src/table-format/index.ts';

const price = fc.oneof(fc.double({ min: 0, max: 1e6, noNaN: true }), fc.constant(NaN));
const positive = fc.double({ min: 1e-6, max: 1e6, noNaN: true });
const second = (from: string, to: string) =>
  fc.integer({ min: Date.parse(from) / 1000, max: Date.parse(to) / 1000 }).map((s) => s * 1000);
const quote: fc.Arbitrary<WrittenQuote> = fc.record({
  underlying: fc.stringMatching(/^[A-Z][A-Z0-9]{0,9}$/),
  asOf: second('2029-01-01T00:00:00Z', '2031-03-14T16:30:00Z'),
  underlyingPrice: positive,
  expiry: second('2031-03-14T17:00:00Z', '2035-01-01T00:00:00Z'),
  side: fc.constantFrom('call', 'put'),
  strike: positive,
  bid: price,
  // An offer of 0 is read as none.
  ask: price.map((p) => (p === 0 ? NaN : p)),
  last: price,
  volume: price,
  openInterest: price,
  bidSize: price,
  askSize: price,
  quotedIn: fc.constantFrom('price', 'volatility'),
  priceSource: fc.constantFrom('quote', 'parity'),
});

async function bytesOf(slices: WrittenQuote[][], format: TableFormat, zone: string): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  for await (const piece of writeChain(slices, { format, zone })) pieces.push(piece);
  return Buffer.concat(pieces);
}

test.each(['csv', 'jsonl', 'parquet'] as const)(
  'what is written as %s is read again as it was, to the last digit, in any zone',
  async (kind) => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(quote, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 4 }),
        fc.constantFrom('+01:00', '-05:00', 'UTC'),
        async (slices, zone) => {
          const source = fileInMemory(await bytesOf(slices, kind, zone));
          const plainText = { encoding: 'utf-8', delimiter: ',' } as const;
          const detected = detectColumns(await firstRows(source, kind, plainText), plainText);
          if (!detected.ok) throw new Error(detected.reason);
          const rows: WrittenQuote[] = [];
          const options = { ...detected, typed: {}, zone: '+09:00', sessionClose: '17:30' };
          for await (const row of readChain(source, kind, options)) {
            if (isProblem(row)) throw new Error(`${row.field} ${row.value} ${row.code}`);
            const { line: _, volatility: _v, bidVolatility: _b, askVolatility: _a, ...rest } = row;
            rows.push(rest);
          }
          // 0 and -0 are one price.
          const plain = (q: WrittenQuote) =>
            Object.fromEntries(
              Object.entries(q).map(([name, v]) => [name, typeof v === 'number' ? v + 0 : (v as string)]),
            );
          expect(rows).toEqual(slices.flat().map(plain));
        },
      ),
      { numRuns: 40 },
    );
  },
);

test('as JSON lines every quote is one object with the same fields, null where there is none', async () => {
  const one: WrittenQuote = {
    underlying: 'VM50',
    asOf: Date.parse('2031-03-14T13:00:00Z'),
    underlyingPrice: 4812.6,
    expiry: Date.parse('2031-04-18T16:30:00Z'),
    side: 'put',
    strike: 4600,
    bid: 38.4,
    ask: NaN,
    last: NaN,
    volume: 12,
    openInterest: 0,
    bidSize: 12,
    askSize: NaN,
    quotedIn: 'price',
    priceSource: 'quote',
  };
  const written = await bytesOf([[one], [{ ...one, underlying: 'TOOLONGNAME' }]], 'jsonl', '+01:00');
  const lines = written.toString().trim().split('\n');
  expect(JSON.parse(lines[0])).toEqual({
    underlying: 'VM50',
    as_of: '2031-03-14T14:00:00+01:00',
    underlying_price: 4812.6,
    expiry: '2031-04-18T17:30:00+01:00',
    side: 'put',
    strike: 4600,
    bid: 38.4,
    ask: null,
    last: null,
    volume: 12,
    open_interest: 0,
    bid_size: 12,
    ask_size: null,
    option_symbol: 'VM50  310418P04600000',
    quoted_in: 'price',
    underlying_price_source: 'quote',
    underlying_kind: null,
    exercise_style: null,
    multiplier: null,
    currency: null,
  });
  expect(JSON.parse(lines[1])).toMatchObject({ underlying: 'TOOLONGNAME', option_symbol: null });
});
