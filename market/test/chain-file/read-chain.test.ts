import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { detectDateOrder, parseInstant, parseNumber } from '../../src/cell-text/index.ts';
import { fileInMemory } from '../../src/table-file/index.ts';
import {
  type ChainRow,
  detectFormat,
  isProblem,
  mapColumns,
  readChain,
  type RowProblem,
} from '../../src/chain-file/index.ts';

const file = (name: string) => readFileSync(new URL(`../../../e2e/files/${name}`, import.meta.url));

async function readAll(bytes: Uint8Array, chunk = bytes.length): Promise<{ rows: ChainRow[]; problems: RowProblem[] }> {
  const detected = await detectFormat(bytes.subarray(0, 1 << 16), { isWhole: bytes.length <= 1 << 16 });
  if (!detected.ok) throw new Error(detected.reason);
  async function* pieces() {
    for (let i = 0; i < bytes.length; i += chunk) yield bytes.subarray(i, i + chunk);
  }
  const source = { ...fileInMemory(bytes), bytes: pieces };
  const rows: ChainRow[] = [];
  const problems: RowProblem[] = [];
  const read = { ...detected, typed: {}, zone: '+01:00', sessionClose: '17:30' };
  for await (const row of readChain(source, 'csv', read)) {
    if (isProblem(row)) problems.push(row);
    else rows.push(row);
  }
  return { rows, problems };
}

test('semicolons, decimal commas, other headers and a byte-order mark are recognised', async () => {
  const detected = await detectFormat(file('heston-localised.csv'), { isWhole: true });
  expect(detected).toMatchObject({
    ok: true,
    format: { encoding: 'utf-8', delimiter: ';', decimal: ',', dateOrder: 'dmy' },
  });
  expect(detected.ok && detected.mapping).toEqual({
    expiry: 0,
    side: 1,
    strike: 2,
    ask: 3,
    bid: 4,
    openInterest: 5,
    volume: 6,
    underlyingPrice: 7,
    underlying: 8,
    asOf: 9,
  });
  const { rows, problems } = await readAll(file('heston-localised.csv'), 37);
  expect(problems).toEqual([]);
  expect(rows).toHaveLength(526);
  expect(rows[0]).toMatchObject({
    underlying: 'FJRD',
    side: 'call',
    strike: 129,
    ask: 16.73,
    bid: 16.21,
    underlyingPrice: 145.42,
  });
  expect(new Date(rows[0].asOf).toISOString()).toBe('2031-03-14T16:30:00.000Z');
  // A date without a time is the session close of the exchange's zone.
  expect(new Date(rows[0].expiry).toISOString()).toBe('2031-03-21T16:30:00.000Z');
});

test('a file split at any byte reads to the same rows', async () => {
  const bytes = file('heston-plain.csv').subarray(0, 4000);
  const whole = await readAll(bytes);
  await fc.assert(
    fc.asyncProperty(fc.integer({ min: 1, max: 300 }), async (chunk) => {
      expect(await readAll(bytes, chunk)).toEqual(whole);
    }),
    { numRuns: 15 },
  );
});

test('each kind of bad cell is named with its line, field, value and remedy', async () => {
  const header = 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask';
  const good = 'KELPA,2031-03-14T17:30:00+01:00,81.2,2031-04-18,call,80,2.1,2.3';
  const bad: [string, string, string][] = [
    [good.replace('2.1', 'abc'), 'bid', 'not-a-number'],
    [good.replace(',80,', ',-80,'), 'strike', 'not-positive'],
    [good.replace('2.3', '-2.3'), 'ask', 'negative'],
    [good.replace('2031-04-18', '2031-03-01'), 'expiry', 'expired'],
    [good.replace('2031-04-18', '2031-02-30'), 'expiry', 'not-a-date'],
    [good.replace('call', 'straddle'), 'side', 'not-a-side'],
    [good.replace('KELPA', ''), 'underlying', 'empty'],
    ['KELPA,2031-03-14', 'row', 'too-few-cells'],
  ];
  for (const [line, field, code] of bad) {
    const { rows, problems } = await readAll(Buffer.from([header, good, line].join('\n')));
    expect(rows).toHaveLength(1);
    expect(problems).toHaveLength(1);
    expect(problems[0]).toMatchObject({ line: 3, field, code });
    expect(problems[0].remedy).not.toBe('');
  }
});

test('binary, empty and tableless files are told apart', async () => {
  expect(await detectFormat(new Uint8Array(0), { isWhole: true })).toEqual({ ok: false, reason: 'empty' });
  expect(await detectFormat(Buffer.from('\n \n'), { isWhole: true })).toEqual({ ok: false, reason: 'empty' });
  expect(await detectFormat(Uint8Array.of(0x50, 0x4b, 3, 4, 0, 0), { isWhole: true })).toEqual({
    ok: false,
    reason: 'binary',
  });
  expect(await detectFormat(Buffer.from('just some words\nand more'), { isWhole: true })).toEqual({
    ok: false,
    reason: 'no-table',
  });
});

test('numbers read back with either decimal mark and grouped thousands', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 1e9 }), fc.constantFrom('.', ','), (cents, decimal) => {
      const other = decimal === '.' ? ',' : '.';
      const [whole, part] = (cents / 100).toFixed(2).split('.');
      const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, other);
      expect(parseNumber(`${whole}${decimal}${part}`, decimal)).toBe(cents / 100);
      expect(parseNumber(`${grouped}${decimal}${part}`, decimal)).toBe(cents / 100);
    }),
  );
  for (const text of ['', 'abc', '1.2.3', '12,34,56', '--1', '1e']) expect(parseNumber(text, '.')).toBeNaN();
});

test('day and month are told apart where the numbers allow, and called ambiguous where they do not', () => {
  expect(detectDateOrder(['03/21/2031', '04/18/2031'])).toEqual({ order: 'mdy', isAmbiguous: false });
  expect(detectDateOrder(['21/03/2031'])).toEqual({ order: 'dmy', isAmbiguous: false });
  expect(detectDateOrder(['03/04/2031'])).toEqual({ order: 'dmy', isAmbiguous: true });
  expect(detectDateOrder(['2031-03-21'])).toEqual({ order: 'iso', isAmbiguous: false });
  const o = { order: 'mdy' as const, zone: '+01:00', defaultTime: '17:30' };
  expect(parseInstant('03/21/2031', o)).toBe(Date.UTC(2031, 2, 21, 16, 30));
  expect(parseInstant('20310321', o)).toBe(Date.UTC(2031, 2, 21, 16, 30));
});

test('a column goes to at most one field, the surest word first', () => {
  expect(
    mapColumns(['Date', 'Snapshot', 'Symbol', 'Spot', 'Expiry', 'Right', 'K', 'Bid', 'Ask', 'Strike']).mapping,
  ).toMatchObject({ asOf: 1, strike: 9, side: 5 });
});
