import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  dateText,
  DEMO_SEED,
  SCHEDULED_EVENTS,
  TODAY,
  TODAY_DAY,
  UNIVERSE,
  VeldmarMarket,
} from '@umwelt/market/veldmar';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { claimUserRows } from '../../src/lib/server/demo/claim-user-rows.ts';
import { isDemoCurrent, storeDemoBase } from '../../src/lib/server/demo/demo-base.ts';
import { storeDemoToday } from '../../src/lib/server/demo/demo-chains.ts';
import { SLICE_COLUMNS } from '../../src/lib/server/repositories/slices.ts';
import { testDatabase, type TestDatabase } from './database.ts';

/*
 * A database as it was before rows said who made them, with everything that a user can own in it, brought up to date: nothing of
 * the user's is lost, neither then nor when the demo is made anew.
 */

/** The last migration of that time. */
const LAST_BEFORE = 6;
const folder = fileURLToPath(new URL('../../drizzle', import.meta.url));

let store: TestDatabase;
beforeAll(async () => {
  const before = mkdtempSync(join(tmpdir(), 'migrations-'));
  cpSync(folder, before, { recursive: true });
  const path = join(before, 'meta/_journal.json');
  const journal = JSON.parse(readFileSync(path, 'utf8')) as { entries: { idx: number }[] };
  writeFileSync(path, JSON.stringify({ ...journal, entries: journal.entries.filter((e) => e.idx <= LAST_BEFORE) }));
  store = await testDatabase({ migrationsFolder: before });
  await fill();
  await migrate(store.connection.database, { migrationsFolder: folder });
});
afterAll(() => store.drop());

const [event] = SCHEDULED_EVENTS.filter((e) => 'KELPA' in e.moves);
const today = dateText(TODAY_DAY);
const USER_INSTANT = '2031-03-14T12:07:00Z';

/** What the application of that time stored: a demo, and beside it imports into its symbols and one of the user's own. */
async function fill(): Promise<void> {
  const { sql } = store.connection;
  await sql`insert into demo (id, version) values (1, 4005)`;
  for (const [symbol, source] of [
    ['KELPA', 'demo'],
    ['GONER', 'demo'],
    ['FORGOTTEN', 'demo'],
    ['MINE', 'import'],
  ]) {
    const [{ id }] = await sql<{ id: number }[]>`
      insert into underlyings (symbol, name, sector, source) values (${symbol}, ${symbol}, 'Food', ${source}) returning id`;
    await sql`
      insert into contract_terms (underlying_id, kind, exercise, model, settlement, multiplier, currency, zone)
      values (${id}, 'share', 'american', 'spot', 'physical', 100, 'XTS', '+01:00')`;
  }
  const slice = async (symbol: string, instant: string, price: number) => {
    await sql`select ensure_slices_partition(${instant}::timestamptz)`;
    const columns = SLICE_COLUMNS.map((name) => name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`));
    await sql.text(
      `insert into slices (underlying_id, instant, expiry, underlying_price, ${columns.join(', ')})
       select id, $2::text::timestamptz, '2031-06-20T16:30:00Z', $3::text::float8, ${columns.map(() => `'{100,110}'`).join(', ')}
       from underlyings where symbol = $1`,
      [symbol, instant, String(price)],
    );
  };
  await slice('KELPA', new Date(TODAY).toISOString(), 1);
  await slice('KELPA', USER_INSTANT, 2);
  await slice('MINE', USER_INSTANT, 3);
  await slice('GONER', USER_INSTANT, 4);
  await sql`
    insert into events (underlying_id, instant, kind, label)
    select id, e.instant, e.kind, e.label from underlyings, (values
      (${new Date(event.instant).toISOString()}::text::timestamptz, ${event.kind}::text, ${event.label}::text),
      ('2031-04-01T08:00:00Z', 'visit', 'A visit to the works')) e (instant, kind, label)
    where symbol = 'KELPA'`;
  await sql`
    insert into rate_curves (currency, session, days, rates) values
      ('XTS', ${today}, '{30}', '{0.5}'), ('XTS', '2020-01-02', '{30}', '{0.02}'), ('XXX', ${today}, '{30}', '{0.01}')`;
  await sql`
    insert into daily_bars (underlying_id, session, open, high, low, close, volume)
    select id, b.session, 1, 1, 1, 1, 1 from underlyings, (values (${today}::text::date), ('2020-01-02')) b (session)
    where symbol = 'KELPA'`;
  await sql`
    insert into dividends (underlying_id, ex_date, instant, amount)
    select id, '2032-02-02', '2032-02-02T08:00:00Z', 0.5 from underlyings where symbol in ('KELPA', 'MINE')`;
  await sql`
    insert into imports (owner, file_name, sha256, options, rows, slices) values ('local', 'kelpa.csv', 'ab', '{}', 2, 1)`;
  await sql`insert into import_mappings (owner, headers, options) values ('local', '["a"]', '{"zone":"+01:00"}')`;
  await sql`insert into smile_links (owner, symbol, donor, kind, ratio) values ('local', 'MINE', 'KELPA', 'total', 1)`;
}

/** Everything that is the user's, by content. */
async function owned() {
  const { sql } = store.connection;
  return {
    slices: [
      ...(await sql`
        select u.symbol, s.instant, s.underlying_price, s.strikes from slices s join underlyings u on u.id = s.underlying_id
        where s.source = 'user' order by 1, 2`),
    ],
    events: [...(await sql`select instant, kind, label from events where source = 'user'`)],
    rates: [...(await sql`select currency, session, rates from rate_curves where source = 'user' order by 1, 2`)],
    bars: [...(await sql`select session, close from daily_bars where source = 'user'`)],
    dividends: [
      ...(await sql`
        select u.symbol, d.ex_date, d.amount from dividends d join underlyings u on u.id = d.underlying_id
        where d.source = 'user' order by 1`),
    ],
    imports: [...(await sql`select file_name, rows from imports`)],
    mappings: [...(await sql`select headers, options from import_mappings`)],
    links: [...(await sql`select symbol, donor from smile_links`)],
    underlyings: [
      ...(await sql`select symbol, id from underlyings where symbol in ('KELPA', 'MINE', 'GONER') order by 1`),
    ],
  };
}

test('an upgrade tells what users own from what the demo made, and a demo made anew touches only its own', async () => {
  const { connection } = store;
  expect(await isDemoCurrent(connection)).toBe(false);
  await claimUserRows(connection);
  const before = await owned();
  expect(before).toMatchObject({
    slices: [
      { symbol: 'GONER', underlying_price: 4 },
      { symbol: 'KELPA', underlying_price: 2 },
      { symbol: 'MINE', underlying_price: 3 },
    ],
    events: [{ label: 'A visit to the works' }],
    rates: [
      { currency: 'XTS', session: '2020-01-02' },
      { currency: 'XXX', session: today },
    ],
    bars: [{ session: '2020-01-02' }],
    dividends: [{ symbol: 'KELPA' }, { symbol: 'MINE' }],
    imports: [{ file_name: 'kelpa.csv' }],
    mappings: [{ headers: '["a"]' }],
    links: [{ symbol: 'MINE', donor: 'KELPA' }],
  });
  await storeDemoBase(connection);
  await storeDemoToday(connection, 'KELPA');
  expect(await isDemoCurrent(connection)).toBe(true);
  expect(await owned()).toEqual(before);
  const { sql } = connection;
  // The demo's own are of this demo now, and what it lists no more is the user's where something of it is.
  const expected = new VeldmarMarket(DEMO_SEED).slices('KELPA', TODAY);
  const [{ n, price }] = await sql<{ n: number; price: number }[]>`
    select count(*)::int as n, max(underlying_price) as price from slices s join underlyings u on u.id = s.underlying_id
    where u.symbol = 'KELPA' and s.source = 'demo'`;
  expect({ n, price }).toEqual({ n: expected.length, price: expected[0].underlyingPrice });
  const listed = await sql<
    { symbol: string; source: string }[]
  >`select symbol, source from underlyings order by symbol`;
  expect(listed.find((u) => u.symbol === 'GONER')?.source).toBe('import');
  expect(listed.find((u) => u.symbol === 'FORGOTTEN')).toBeUndefined();
  expect(listed).toHaveLength(UNIVERSE.length + 2);
});

test("a user's row in the place of one of the demo's stays when the demo is made anew", async () => {
  const { connection } = store;
  const { sql } = connection;
  await sql`update daily_bars set close = 77, source = 'user' where session = ${today} and source = 'demo'`;
  await sql`update rate_curves set rates = '{0.077}', source = 'user' where currency = 'XTS' and session = ${today}`;
  await sql`
    update slices set underlying_price = 77, source = 'user'
    where underlying_id = (select id from underlyings where symbol = 'KELPA') and source = 'demo'
      and expiry = (select min(expiry) from slices where instant = ${new Date(TODAY).toISOString()}::text::timestamptz)`;
  const before = await owned();
  await storeDemoBase(connection);
  await storeDemoToday(connection, 'KELPA');
  expect(await owned()).toEqual(before);
  // Figures of the instant are of what is stored there, the user's part included.
  const [measures] = await sql<{ source: string }[]>`
    select m.source from derived_measures m join underlyings u on u.id = m.underlying_id
    where u.symbol = 'KELPA' and m.instant = ${new Date(TODAY).toISOString()}::text::timestamptz`;
  expect(measures.source).toBe('user');
});
