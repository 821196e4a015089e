import { readFileSync, writeFileSync, mkdtempSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { DuckDBInstance } from '@duckdb/node-api';
import fc from 'fast-check';
import ical from 'node-ical';
import { expect, test } from 'vitest';
import { type CalendarEvent, readCalendar, writeCalendar } from '../../src/calendar-file/index.ts';
import { FILE_LIMITS } from '../../src/file-limits/index.ts';
import { SYMBOL_RULE } from '../../src/symbol/index.ts';
import { fileInMemory, readTable, readTableRows, ROWS_A_GROUP, writeTable } from '../../src/table-file/index.ts';
import { TABLE_FORMATS, type TableFormat, type TableKind, type TableRecord } from '../../src/table-format/index.ts';
import { isoInZone } from '../../src/zone/index.ts';

const ZONE = '+01:00';
const INSTANT_REMEDY = 'an existing instant as 2031-03-14T17:30:00+01:00, 1900 to 2200';

async function written(kind: TableKind, records: TableRecord[], format: TableFormat): Promise<Uint8Array> {
  const pieces: Uint8Array[] = [];
  for await (const piece of writeTable(kind, [records], format)) pieces.push(piece);
  return Buffer.concat(pieces);
}

// Any text with commas, quotes, line breaks and formula signs, but without blanks at its ends, which a reader trims.
const text = fc
  .string({ minLength: 1, maxLength: 24, unit: fc.constantFrom(...`abcXYZ019 ,;"'=+-@øé{}`) })
  .map((t) => t.trim())
  .filter((t) => t !== '');
// Symbols with everything that the rule allows.
const symbol = fc
  .string({ minLength: 1, maxLength: 24, unit: fc.constantFrom(...'aZ09._-/^& ') })
  .map((t) => `^A${t}9`)
  .filter((t) => !t.includes('..'));
// Minus zero is written as zero.
const positive = fc.double({ min: 5e-324, noNaN: true, noDefaultInfinity: true });
const number = fc.double({ min: 0, noNaN: true, noDefaultInfinity: true }).map((n) => n + 0);
const rate = fc.double({ min: -5, max: 5, noNaN: true }).map((n) => n + 0);
const date = fc.integer({ min: 0, max: 40_000 }).map((d) => new Date(d * 86_400_000).toISOString().slice(0, 10));
const instant = fc.integer({ min: 0, max: 2_500_000_000 }).map((s) => isoInZone(s * 1000, ZONE));
const optional = fc.option(number, { nil: null });

const barsOf = (key: Record<string, fc.Arbitrary<string>>): fc.Arbitrary<TableRecord> =>
  fc
    .record({ ...key, open: positive, high: positive, low: positive, close: positive, volume: number })
    .map((bar) => ({ ...bar, high: Math.max(bar.high, bar.low), low: Math.min(bar.high, bar.low) }));

const RECORDS: Record<TableKind, fc.Arbitrary<TableRecord>> = {
  chains: fc.record({
    underlying: symbol,
    as_of: instant,
    underlying_price: positive,
    expiry: instant,
    side: fc.constantFrom('call', 'put'),
    strike: positive,
    bid: optional,
    ask: optional,
    last: optional,
    volume: optional,
    open_interest: optional,
    bid_size: optional,
    ask_size: optional,
    option_symbol: fc.option(text, { nil: null }),
    quoted_in: fc.constantFrom('price', 'volatility', null),
    underlying_price_source: fc.constantFrom('quote', 'parity', null),
    underlying_kind: fc.constantFrom('share', null),
    exercise_style: fc.constantFrom('american', null),
    multiplier: fc.constantFrom(100, null),
    currency: fc.constantFrom('XTS', null),
  }),
  bars: barsOf({ underlying: symbol, session: date }),
  'intraday-bars': barsOf({ underlying: symbol, bar_end: instant }),
  splits: fc.record({ underlying: symbol, session: date, ratio: positive }),
  rates: fc.record({ currency: text, session: date, days: number, rate }),
  dividends: fc.record({ underlying: symbol, ex_date: date, instant, amount: positive }),
  events: fc.record({ underlying: symbol, instant, kind: text, label: text }),
};

for (const kind of Object.keys(RECORDS) as TableKind[]) {
  test(`what is written of ${kind} reads again to the same, in every format`, async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(RECORDS[kind], { minLength: 1, maxLength: 12 }),
        fc.constantFrom(...TABLE_FORMATS),
        async (records, format) => {
          const read = await readTable(kind, await written(kind, records, format), { zone: ZONE });
          expect(read).toEqual({ ok: true, records });
        },
      ),
      { numRuns: 60 },
    );
  });
}

test('Parquet opens in DuckDB with numbers, texts and instants as they are', async () => {
  const records: TableRecord[] = [
    { underlying: 'KELPA', instant: '2031-05-12T09:00:00+01:00', ex_date: '2031-05-12', amount: 1.35 },
    { underlying: 'TIDEW', instant: '2031-04-22T09:00:00+01:00', ex_date: '2031-04-22', amount: 0.9 },
  ];
  const file = join(mkdtempSync(join(tmpdir(), 'table-')), 'dividends.parquet');
  writeFileSync(file, await written('dividends', records, 'parquet'));
  const connection = await (await DuckDBInstance.create()).connect();
  const reader = await connection.runAndReadAll(
    `select underlying, ex_date, epoch_ms(instant) as at, amount from '${file}' order by amount`,
  );
  expect(reader.getRows()).toEqual([
    ['TIDEW', '2031-04-22', BigInt(Date.UTC(2031, 3, 22, 8)), 0.9],
    ['KELPA', '2031-05-12', BigInt(Date.UTC(2031, 4, 12, 8)), 1.35],
  ]);
});

test('a long Parquet file is written in row groups, which DuckDB and this reader take as one table', async () => {
  const count = 2 * ROWS_A_GROUP + 7;
  function* pieces() {
    for (let i = 0; i < count; i += 999) {
      yield Array.from({ length: Math.min(999, count - i) }, (_, k) => ({
        ...{ underlying: i % 2 ? 'KELPA' : 'TIDEW', instant: isoInZone(1e12 + 1000 * (i + k), ZONE) },
        ...{ ex_date: '2031-05-12', amount: i + k + 0.25 },
      }));
    }
  }
  const file = join(mkdtempSync(join(tmpdir(), 'table-')), 'long.parquet');
  const written: Uint8Array[] = [];
  for await (const piece of writeTable('dividends', pieces(), 'parquet')) written.push(piece);
  writeFileSync(file, Buffer.concat(written));
  const connection = await (await DuckDBInstance.create()).connect();
  const asked = await connection.runAndReadAll(`
    select count(*), sum(amount), max(epoch_ms(instant)), count(distinct underlying),
      (select list_sort(list(distinct row_group_num_rows)) from parquet_metadata('${file}')) from '${file}'`);
  const [[rows, sum, last, symbols, groups]] = asked.getRows() as [
    [bigint, number, bigint, bigint, { items: bigint[] }],
  ];
  expect([rows, sum, last, symbols]).toEqual([
    ...[BigInt(count), (count * (count - 1)) / 2 + count / 4],
    ...[BigInt(1e12 + 1000 * (count - 1)), 2n],
  ]);
  expect(groups.items).toEqual([7n, BigInt(ROWS_A_GROUP)]);
  const read = await readTable('dividends', Buffer.concat(written), { zone: ZONE });
  expect(read.ok && [read.records.length, read.records.at(-1)?.amount]).toEqual([count, count - 0.75]);
});

test('the open data set of daily index bars reads as it is; only the underlying has to be typed', async () => {
  const [folder] = /^.*vega-datasets\//.exec(createRequire(import.meta.url).resolve('vega-datasets')) ?? [''];
  const path = `${folder}data/sp500-2000.csv`;
  const read = await readTable('bars', readFileSync(path), { zone: ZONE, typed: { underlying: 'INDEX' } });
  if (!read.ok) throw new Error(JSON.stringify(read.problems[0]));
  expect(read.records.length).toBeGreaterThan(5000);
  expect(read.records[0]).toEqual({
    underlying: 'INDEX',
    session: '2000-01-03',
    open: 1469.25,
    high: 1478,
    low: 1438.359985,
    close: 1455.219971,
    volume: 931_800_000,
  });
});

test('a bad file says what is wrong, where, and how to mend it', async () => {
  const read = (body: string, kind: TableKind = 'bars') => readTable(kind, Buffer.from(body), { zone: ZONE });
  const header = 'underlying,session,open,high,low,close,volume\n';
  expect(await read(`${header}A,2031-01-02,1,1,1,x,5\nA,3 Jan,1,1,1,,1\n`)).toEqual({
    ok: false,
    problems: [
      { row: 1, column: 'close', value: 'x', remedy: 'a number with a decimal point' },
      { row: 2, column: 'session', value: '3 Jan', remedy: 'an existing date as YYYY-MM-DD, 1900 to 2200' },
      { row: 2, column: 'close', value: '', remedy: 'must not be empty' },
    ],
  });
  expect(await read('underlying,session,open,high,low,volume\nA,2031-01-02,1,1,1,1\n')).toMatchObject({
    ok: false,
    problems: [{ row: 0, column: 'close' }],
  });
  expect(await read(header)).toMatchObject({
    ok: false,
    problems: [{ remedy: expect.stringMatching(/^the file has no rows/) as unknown as string }],
  });
  expect(await read('{"currency":"A","session":"2031-01-02","days":1,"rate":0}\nnonsense\n', 'rates')).toMatchObject({
    ok: false,
    problems: [{ row: 2 }],
  });
  expect(await readTable('bars', Buffer.from('PAR1 but no more'), { zone: ZONE })).toMatchObject({ ok: false });
});

const event: fc.Arbitrary<CalendarEvent> = fc.record({
  underlying: fc.string({ minLength: 1, maxLength: 8, unit: fc.constantFrom(...'ABCXYZ059') }),
  instant: fc.integer({ min: 0, max: 2_500_000_000 }).map((s) => s * 1000),
  kind: fc.constantFrom('report', 'readout', 'central-bank'),
  label: text.filter((t) => !t.includes('\r')),
});

test('a calendar reads again to the same events, and an outside parser finds the same', () => {
  fc.assert(
    fc.property(fc.array(event, { minLength: 1, maxLength: 8 }), (events) => {
      const file = writeCalendar(events, Date.UTC(2031, 2, 14));
      expect(readCalendar(file, ZONE)).toEqual({ ok: true, events });
      // RFC 5545, 3.1: no line longer than 75 octets, each ended by CR LF.
      for (const line of file.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
      expect(file.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
      const outside = Object.values(ical.sync.parseICS(file)).filter((c) => c?.type === 'VEVENT');
      const distinct = new Set(events.map((e) => `${e.underlying}-${e.kind}-${e.instant}`));
      expect(outside).toHaveLength(distinct.size);
      for (const found of outside) {
        const own = events.findLast((e) => `${e.underlying}-${e.kind}-${e.instant}@umwelt` === found.uid);
        expect(found.start.getTime()).toBe(own?.instant);
        expect(found.summary).toBe(`${own?.underlying}: ${own?.label}`);
      }
    }),
    { numRuns: 60 },
  );
});

test('a calendar that is none, or names no underlying, says so', () => {
  expect(readCalendar('hello', ZONE)).toMatchObject({ ok: false });
  const body =
    'BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART:20310327T100000Z\r\nSUMMARY:Something\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n';
  expect(readCalendar(body, ZONE)).toMatchObject({
    ok: false,
    reason: expect.stringContaining('names no underlying') as string,
  });
});

const BARS = 'underlying,session,open,high,low,close,volume\n';
const barLine = (open: string) =>
  `{"underlying":"A","session":"2031-01-02","open":${open},"high":1,"low":1,"close":1,"volume":1}`;
const RATES = 'currency,session,days,rate\n';
const DIVIDENDS = 'underlying,ex_date,instant,amount\n';
const EVENTS = 'underlying,instant,kind,label\n';

test.each<[TableKind, string, column: string, remedy: string]>([
  ['bars', `${BARS}A,2031-01-02,-1,1,1,1,5`, 'open', 'must be above 0'],
  ['bars', `${BARS}A,2031-01-02,1,1,1,1,-5`, 'volume', 'must be 0 or more'],
  ['bars', `${BARS}A,2031-01-02,1,1,2,1,5`, 'high', 'must not lie below low (2)'],
  ['bars', `${BARS}A,2031-01-02,0x10,1,1,1,5`, 'open', 'a number with a decimal point'],
  ['bars', `${BARS}A,2031-02-31,1,1,1,1,5`, 'session', 'an existing date as YYYY-MM-DD, 1900 to 2200'],
  ['bars', barLine('true'), 'open', 'a number with a decimal point'],
  ['bars', barLine('" "'), 'open', 'a number with a decimal point'],
  ['rates', `${RATES}XTS,2031-01-02,30,7`, 'rate', 'must be 5 or less'],
  ['dividends', `${DIVIDENDS}A,2031-01-02,2031-01-02T09:00:00Z,0`, 'amount', 'must be above 0'],
  ['events', `${EVENTS}A..B,2031-01-02T09:00:00Z,report,Report`, 'underlying', SYMBOL_RULE],
  ['events', `${EVENTS}A,+275760-09-13T00:00:00Z,report,Report`, 'instant', INSTANT_REMEDY],
  ['events', `${EVENTS}A,0000-01-01T00:00:00Z,report,Report`, 'instant', INSTANT_REMEDY],
  [
    'events',
    `${EVENTS}A,2031-01-02T09:00:00Z,report,Re\u0000port`,
    '',
    'not readable as CSV (it holds control characters); send CSV, JSON, a workbook (xlsx) or Parquet',
  ],
  [
    'events',
    `{"underlying":${'['.repeat(5000)}${']'.repeat(5000)},"instant":"","kind":"","label":""}`,
    'underlying',
    'a plain value',
  ],
])('%s with %j are refused with row, column and remedy', async (kind, body, column, remedy) => {
  const read = await readTable(kind, Buffer.from(body), { zone: ZONE });
  expect(read.ok).toBe(false);
  if (!read.ok) expect(read.problems).toContainEqual(expect.objectContaining({ column, remedy }));
});

test('an instant without an offset is in the zone that is given, an IANA one too', async () => {
  const body = `${EVENTS}A,2031-07-02T09:00:00,report,Summer\nA,2031-01-02T09:00:00,report,Winter\n`;
  const read = await readTable('events', Buffer.from(body), { zone: 'Europe/Paris' });
  if (!read.ok) throw new Error(read.problems[0].remedy);
  // Central European time, with summer time.
  expect(read.records.map((r) => Date.parse(String(r.instant)))).toEqual([
    Date.UTC(2031, 6, 2, 7),
    Date.UTC(2031, 0, 2, 8),
  ]);
  const calendar = (start: string) =>
    readCalendar(
      `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n${start}\r\nSUMMARY:A: Report\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`,
      'Europe/Paris',
    );
  for (const [start, at] of [
    ['DTSTART:20310702T090000', Date.UTC(2031, 6, 2, 7)],
    ['DTSTART:20310702T090000Z', Date.UTC(2031, 6, 2, 9)],
    ['DTSTART;TZID=Asia/Tokyo:20310702T090000', Date.UTC(2031, 6, 2, 0)],
    ['DTSTART;VALUE=DATE:20310702', Date.UTC(2031, 6, 1, 22)],
  ] as const)
    expect(calendar(start), start).toMatchObject({ ok: true, events: [{ instant: at }] });
});

test.each([
  ['rows', { rows: 2 }],
  ['columns', { columns: 3 }],
  ['bytes', { bytes: 50 }],
  ['cells', { cells: 10 }],
] as const)('a file beyond its limit of %s is refused with the limit and what was found', async (limit, limits) => {
  const records = ['2031-01-02', '2031-01-03', '2031-01-04'].map((session) => ({
    currency: 'XTS',
    session,
    days: 7,
    rate: 0.03,
  }));
  // Cells are counted where many are read at once.
  for (const format of limit === 'cells' ? (['parquet'] as const) : (['csv', 'parquet'] as const)) {
    const bytes = await written('rates', records, format);
    const file = format === 'csv' ? gzipSync(bytes) : bytes;
    const reading = async () => {
      for await (const _row of readTableRows('rates', fileInMemory(file), format, {
        zone: ZONE,
        limits: { ...FILE_LIMITS, ...limits },
      }));
    };
    await expect(reading(), format).rejects.toMatchObject({
      name: 'LimitExceeded',
      limit,
      most: Object.values(limits)[0],
    });
  }
});

test('tables of other programs are read: titles, other headers, dates and numbers as they are written elsewhere', async () => {
  const at = (kind: TableKind, body: string, of: TableRecord = { underlying: 'KELPA' }) =>
    readTable(kind, Buffer.from(body), { zone: ZONE, typed: of });
  const bars = 'Kelpa Foods, daily\n\nDate;Open;High;Low;Close/Last;Vol\n14.03.2031;80,5;1.081,25;80,1;81,2;8,2K\n';
  expect(await at('bars', bars)).toEqual({
    ok: true,
    records: [
      { underlying: 'KELPA', session: '2031-03-14', open: 80.5, high: 1081.25, low: 80.1, close: 81.2, volume: 8200 },
    ],
  });
  expect(await at('bars', 'Date\tOpen\tHigh\tLow\tClose\n"Mar 14, 2031"\t1\t2\t1\t2\n')).toMatchObject({
    records: [{ session: '2031-03-14', volume: null }],
  });
  // Percent by the header, by a sign, or by values that no decimal rate has.
  const days = 'Date,Days,';
  for (const body of ['Rate (%)\n2031-03-14,30,4.5', 'Rate\n2031-03-14,30,4.5%', 'Zero rate\n2031-03-14,30,4.5'])
    expect(await at('rates', days + body, { currency: 'EUR' })).toMatchObject({ records: [{ days: 30, rate: 0.045 }] });
  expect(await at('dividends', 'Ex-Date,Dividend\n21 Mar 2031,0.40')).toEqual({
    ok: true,
    records: [{ underlying: 'KELPA', ex_date: '2031-03-21', instant: '2031-03-21T00:00:00+01:00', amount: 0.4 }],
  });
  expect(await at('events', 'Date,Type\n21 Mar 2031 08:00,report')).toMatchObject({
    records: [{ instant: '2031-03-21T08:00:00+01:00', kind: 'report', label: 'report' }],
  });
  const json = JSON.stringify({ symbol: 'KELPA', bars: [{ date: '2031-03-14', open: 1, high: 2, low: 1, close: 2 }] });
  expect(await readTable('bars', Buffer.from(json), { zone: ZONE })).toMatchObject({
    records: [{ underlying: 'KELPA', session: '2031-03-14', close: 2 }],
  });
});
