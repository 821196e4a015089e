import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { DuckDBInstance } from '@duckdb/node-api';
import { FILE_LIMITS } from '@umwelt/market/file-limits';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { importOptions, type ImportOptionsInput } from '../../src/lib/api/chain-import.ts';
import { tableImport } from '../../src/lib/api/table-export.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { importTable } from '../../src/lib/server/imports/import-table.ts';
import { previewImport } from '../../src/lib/server/imports/preview-import.ts';
import { listImports } from '../../src/lib/server/repositories/imports.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { spooled } from './spooled.ts';

/* Files that ended the application, locked others out or were never answered: each is refused, with the reason, in time. */

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());
beforeEach(async () => {
  await store.connection.sql`truncate underlyings, imports, import_mappings cascade`;
});

const HEADER = 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask';
const row = (o: { symbol?: string; asOf?: string; expiry?: string; strike?: number | string } = {}) =>
  [
    o.symbol ?? 'KELPA',
    o.asOf ?? '2031-03-14T17:30:00+01:00',
    81.2,
    o.expiry ?? '2031-04-18',
    'call',
    o.strike ?? 80,
    2.1,
    2.3,
  ].join(',');
const bring = async (body: Uint8Array | string, o: ImportOptionsInput = {}) =>
  importChain(store.connection, 'local', { files: [await spooled(body)], options: importOptions.parse(o) });

async function nothingStored(): Promise<void> {
  const [{ n }] = await store.connection.sql<{ n: number }[]>`
    select (select count(*) from slices) + (select count(*) from underlyings) + (select count(*) from imports where refusal is null) as n`;
  expect(Number(n)).toBe(0);
}

test.each([
  ['an instant in the year 0', row({ asOf: '0000-01-01T00:00:00Z' }), { field: 'asOf', code: 'out-of-range' }],
  [
    'an instant of which only the offset is beyond',
    row({ asOf: '9999-12-31T23:00:00-14:00' }),
    { field: 'asOf', code: 'out-of-range' },
  ],
  ['an expiry in the year 2900', row({ expiry: '2900-01-01' }), { field: 'expiry', code: 'out-of-range' }],
  ['a date that does not exist', row({ expiry: '2031-02-31' }), { field: 'expiry', code: 'not-a-date' }],
  ['a symbol with two dots', row({ symbol: 'A..B' }), { field: 'underlying', code: 'not-a-symbol' }],
  ['a symbol of 33 characters', row({ symbol: 'A'.repeat(33) }), { field: 'underlying', code: 'not-a-symbol' }],
])('%s is refused with line and remedy', async (_name, bad, problem) => {
  const outcome = await bring(`${HEADER}\n${row()}\n${bad}\n${bad}`, { badRows: 'refuse' });
  expect(outcome).toMatchObject({
    ok: false,
    failure: { reason: 'bad-rows', problems: [{ line: 3, ...problem }, { line: 4 }] },
  });
  await nothingStored();
});

test('a NUL after the first 64 kB, in UTF-8 and in UTF-16, is refused with its line, and the refusal is kept', async () => {
  const many = Array.from({ length: 3000 }, (_, i) => row({ strike: 1 + i }));
  const text = [HEADER, ...many, row({ symbol: 'KEL\u0000PA' })].join('\n');
  expect(text.indexOf('\u0000')).toBeGreaterThan(1 << 16);
  for (const bytes of [Buffer.from(text), Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')])]) {
    expect(await bring(bytes, { badRows: 'refuse' })).toMatchObject({
      ok: false,
      failure: { reason: 'bad-rows', problems: [{ line: 3002, field: 'underlying', code: 'not-a-symbol' }] },
    });
  }
  expect(await listImports(store.connection.database, 'local')).toHaveLength(2);
  await nothingStored();
});

/** A Parquet file that an outside writer makes of a query. */
async function parquet(query: string): Promise<Buffer> {
  const path = join(mkdtempSync(join(tmpdir(), 'parquet-')), 'file.parquet');
  const connection = await (await DuckDBInstance.create()).connect();
  await connection.run(`copy (${query}) to '${path}' (format parquet, row_group_size 100000000)`);
  return readFileSync(path);
}
const CHAIN = `'A' as underlying, timestamptz '2031-03-14 13:00:00Z' as as_of, 80.0 as underlying_price,
  timestamptz '2031-04-18 16:30:00Z' as expiry, 'call' as side`;

test.each(process.env.SOAK ? [FILE_LIMITS.rows, 100_000] : [100_000])(
  'a small Parquet file of a tenth more than %d rows is refused by its index',
  async (most) => {
    const found = Math.round(1.1 * most);
    const file = await parquet(`select ${CHAIN}, 80.0 as strike, 1.0 as bid, 1.1 as ask from range(${found})`);
    expect(file.length).toBeLessThan(1 << 20);
    const o = {
      files: [await spooled(file)],
      options: importOptions.parse({}),
      limits: { ...FILE_LIMITS, rows: most },
    };
    expect(await importChain(store.connection, 'local', o)).toMatchObject({
      ok: false,
      failure: { reason: 'limit', limit: 'rows', most, found },
    });
    await nothingStored();
  },
);

test('one that unfolds into more than the memory of its reader ends the reader alone', async () => {
  const file = await parquet(
    `select ${CHAIN}, 1.0 + i as strike, 0.5 * i as bid, 0.6 * i as ask from range(2500000) t(i)`,
  );
  expect(await bring(file)).toMatchObject({ ok: false, failure: { reason: 'memory' } });
  await nothingStored();
});

test('an archive that unfolds beyond what is read is refused while it unfolds, and a good one comes in', async () => {
  const bomb = gzipSync(`${HEADER}\n${'x'.repeat(15)}${'\n'.repeat(1 << 20)}`);
  const o = { limits: { bytes: 1 << 19, rows: 100, columns: 20, cells: 1000 } };
  const files = [await spooled(bomb)];
  expect(await importChain(store.connection, 'local', { files, options: importOptions.parse({}), ...o })).toMatchObject(
    {
      ok: false,
      failure: { reason: 'limit', limit: 'bytes', most: 1 << 19 },
    },
  );
  await nothingStored();
  expect(await bring(gzipSync(`${HEADER}\n${row()}`))).toMatchObject({ ok: true, result: { rows: 1 } });
});

test('a file that spans two centuries is refused, and so is an expiry of 2,001 strikes', async () => {
  const months = Array.from({ length: 2400 }, (_, i) =>
    row({
      asOf: `${1950 + Math.floor(i / 12)}-${String(1 + (i % 12)).padStart(2, '0')}-03T12:00:00Z`,
      expiry: '2199-01-01',
    }),
  );
  const years = await bring([HEADER, ...months].join('\n'));
  expect(years).toMatchObject({ ok: false, failure: { reason: 'span', most: 30 } });
  const strikes = Array.from({ length: 2001 }, (_, i) => row({ strike: 1 + i }));
  const wide = await bring([HEADER, ...strikes].join('\n'));
  expect(wide).toMatchObject({ ok: false, failure: { reason: 'bad-rows', problems: [{ field: 'strike' }] } });
  if (!wide.ok && wide.failure.reason === 'bad-rows')
    expect(wide.failure.problems[0].remedy).toMatch(/^2001 strikes .* at most 2000/);
  expect((await store.connection.sql`select 1 from pg_tables where tablename like 'slices_19%'`).length).toBe(0);
  await nothingStored();
});

test('files into the same new months at one time neither wait for each other for ever nor are stored twice', async () => {
  const file = (symbols: string[], from: number) =>
    [
      HEADER,
      ...symbols.flatMap((symbol) =>
        Array.from({ length: 12 }, (_, i) =>
          row({ symbol, asOf: `20${from}-${String(12 - i).padStart(2, '0')}-05T12:00:00Z` }),
        ),
      ),
    ].join('\n');
  const names = ['A', 'B', 'C', 'D', 'E', 'F'];
  const outcomes = await Promise.all([
    bring(file(names, 20)),
    bring(file([...names].reverse(), 20)),
    bring(file(names, 20)),
    bring(file(names, 21)),
  ]);
  expect(outcomes.map((o) => (o.ok ? o.result.status : o.failure)).sort()).toEqual([
    'imported',
    'imported',
    // The same rows, in this order and in another.
    'unchanged',
    'unchanged',
  ]);
  const [{ slices, imports }] = await store.connection.sql<{ slices: number; imports: number }[]>`
    select (select count(*)::int from slices) as slices, (select count(*)::int from imports) as imports`;
  expect({ slices, imports }).toEqual({ slices: 144, imports: 2 });
});

test('a zone that is none is refused at every door, and an IANA one is honoured by events', async () => {
  for (const zone of ['Nowhere/Never', '+01:00[u-ca=hebrew]', '[Europe/Paris]', '+25:00']) {
    expect(tableImport.safeParse({ zone }).success, zone).toBe(false);
    expect(importOptions.safeParse({ zone }).success, zone).toBe(false);
  }
  const file = await spooled('underlying,instant,kind,label\nA,2031-07-01T09:00:00,report,Report');
  await importTable(store.connection, 'local', {
    table: 'events',
    file,
    options: tableImport.parse({ zone: 'Europe/Paris' }),
  });
  const [event] = await store.connection.sql<{ instant: string }[]>`select instant from events`;
  expect(new Date(event.instant).toISOString()).toBe('2031-07-01T07:00:00.000Z');
});

test('a symbol in another case means what is stored', async () => {
  await bring(`${HEADER}\n${row({ symbol: 'A/B' })}`);
  const file = await spooled('underlying,session,open,high,low,close,volume\na/b,2031-03-13,1,1,1,1,1');
  expect(
    await importTable(store.connection, 'local', { table: 'bars', file, options: tableImport.parse({}) }),
  ).toMatchObject({ underlyings: ['A/B'] });
  expect([...(await store.connection.sql`select symbol from underlyings`)]).toEqual([{ symbol: 'A/B' }]);
});

test('a preview reads the whole file and counts what is wrong by kind', async () => {
  const lines = Array.from({ length: 30_000 }, (_, i) =>
    row({
      strike: i % 1000 === 7 ? '-5' : 1 + (i % 1000),
      asOf: i % 2000 === 11 ? 'soon' : new Date(Date.UTC(2030, 0, 1 + Math.floor(i / 1000))).toISOString(),
    }),
  );
  const file = await spooled([HEADER, ...lines].join('\n'));
  const look = await previewImport(store.connection, 'local', { files: [file], fileName: 'large.csv' });
  if (!look.ok) throw new Error(look.failure.reason);
  expect(look.preview.whole?.rows).toBe(30_000 - 30 - 15);
  expect(look.preview.whole?.problems.toSorted((a, b) => b.rows - a.rows)).toEqual([
    { code: 'not-positive', field: 'strike', rows: 30, lines: Array.from({ length: 20 }, (_, i) => 9 + 1000 * i) },
    { code: 'not-a-date', field: 'asOf', rows: 15, lines: Array.from({ length: 15 }, (_, i) => 13 + 2000 * i) },
  ]);
});

test('an import that is cancelled ends at once and leaves nothing', async () => {
  const lines = Array.from({ length: 200_000 }, (_, i) =>
    row({
      strike: 1 + (i % 1000),
      asOf: new Date(Date.UTC(2030, 0, 1) + Math.floor(i / 1000) * 86_400_000).toISOString(),
    }),
  );
  const file = await spooled([HEADER, ...lines].join('\n'));
  const leave = new AbortController();
  const importing = importChain(store.connection, 'local', {
    ...{ files: [file], options: importOptions.parse({}), signal: leave.signal },
  });
  while (file.progress.stage === 'received' || file.progress.rows === 0)
    await new Promise((resolve) => setTimeout(resolve, 10));
  leave.abort();
  await expect(importing).rejects.toThrow(/abort/i);
  await nothingStored();
  expect(
    (
      await store.connection
        .sql`select 1 from pg_stat_activity where query like 'copy staged%' and state = 'active' and datname = current_database()`
    ).length,
  ).toBe(0);
});
