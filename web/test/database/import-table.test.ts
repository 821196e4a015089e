import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { tableExport, tableImport } from '../../src/lib/api/table-export.ts';
import { exportTable } from '../../src/lib/server/exports/export-table.ts';
import { importTable } from '../../src/lib/server/imports/import-table.ts';
import type { ImportedTable } from '../../src/lib/server/repositories/table-staging.ts';
import { listImports } from '../../src/lib/server/repositories/imports.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { spooled } from './spooled.ts';

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase();
});
afterAll(() => store.drop());
beforeEach(async () => {
  await store.connection.sql`truncate underlyings, imports, rate_curves cascade`;
});

const bring = async (table: ImportedTable, body: Uint8Array | string, o: object = {}) =>
  importTable(store.connection, 'local', { table, file: await spooled(body), options: tableImport.parse(o) });

async function taken(table: ImportedTable, symbol: string, format: string): Promise<Buffer> {
  const file = await exportTable(store.connection.database, table, symbol, tableExport.parse({ format }));
  if (!file.ok) throw new Error(file.reason);
  const pieces: Uint8Array[] = [];
  for await (const piece of file.bytes) pieces.push(piece);
  return Buffer.concat(pieces);
}

const FILES: Record<ImportedTable, { symbol: string; body: string; rows: string }> = {
  bars: {
    symbol: 'KELPA',
    body: 'date,open,high,low,close,volume\n2031-03-12,95.1,96.4,94.9,96.02,120500\n2031-03-13,96,97.25,95.8,97.1,99000\n',
    rows: 'select session::text, open, high, low, close, volume from daily_bars order by session',
  },
  'intraday-bars': {
    symbol: 'KELPA',
    body: 'bar_end,open,high,low,close,volume\n2031-03-13T09:15:00+01:00,95.1,96.4,94.9,96.02,1200\n2031-03-13T09:30,96,97.25,95.8,97.1,990\n',
    rows: 'select instant, open, high, low, close, volume from intraday_bars order by instant',
  },
  splits: {
    symbol: 'KELPA',
    body: 'date,ratio\n2030-06-03,2\n2031-01-15,0.1\n',
    rows: 'select session::text, ratio from splits order by session',
  },
  rates: {
    symbol: 'XTS',
    body: 'session,days,rate\n2031-03-13,365,0.0331\n2031-03-13,7,0.0303\n2031-03-14,7,0.0304\n',
    rows: 'select currency, session::text, days, rates from rate_curves order by session',
  },
  dividends: {
    symbol: 'KELPA',
    body: 'ex_date,instant,amount\n2031-05-12,2031-05-12T09:00:00+01:00,1.35\n2031-11-12,2031-11-12T09:00:00,1.4\n',
    rows: 'select ex_date::text, instant, amount from dividends order by ex_date',
  },
  events: {
    symbol: 'KELPA',
    body: 'instant,kind,label\n2031-04-22T08:00:00+01:00,report,"Report, first quarter"\n2031-03-20T13:00:00+01:00,central-bank,Central bank\n',
    rows: 'select instant, kind, label from events order by instant',
  },
};

for (const [name, { symbol, body, rows }] of Object.entries(FILES)) {
  const table = name as ImportedTable;
  test(`${table} that leave in any format come in again as they were`, async () => {
    const { sql } = store.connection;
    expect(await bring(table, body, { of: symbol })).toMatchObject({ ok: true });
    const before = [...(await sql.text(rows))];
    expect(before.length).toBeGreaterThan(1);
    for (const format of ['csv', 'jsonl', 'parquet', ...(table === 'events' ? ['ics'] : [])]) {
      const file = await taken(table, symbol, format);
      await sql`truncate underlyings, rate_curves cascade`;
      expect(await bring(table, file), format).toMatchObject({ ok: true });
      expect([...(await sql.text(rows))], format).toEqual(before);
      // A second time changes nothing.
      expect(await bring(table, file), format).toMatchObject({ ok: true });
      expect([...(await sql.text(rows))], format).toEqual(before);
    }
  });
}

test('a bad table stores nothing, says which rows to mend, and is listed with its rejects', async () => {
  const body = 'underlying,session,open,high,low,close,volume\nA,2031-03-12,1,1,1,1,1\nA,2031-03-12,1,1,1,1,1\n';
  const outcome = await bring('bars', body, { fileName: 'twice.csv' });
  expect(outcome).toMatchObject({ ok: false, problems: [{ row: 2, remedy: 'the same as row 1; keep one' }] });
  const { database, sql } = store.connection;
  expect(await sql`select 1 from underlyings`).toHaveLength(0);
  const [listed] = await listImports(database, 'local');
  expect(listed).toMatchObject({ fileName: 'twice.csv', table: 'bars', rows: 0, refusal: { problems: [{ row: 2 }] } });
});
