import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { connect, type Connection } from '../../src/lib/server/database/connect.ts';
import { copyIn } from '../../src/lib/server/database/copy-in.ts';
import { listen } from '../../src/lib/server/database/listen.ts';
import { troubleOf } from '../../src/lib/server/http/trouble.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { until } from './processes.ts';
import { spooled } from './spooled.ts';

/*
 * Connections that the database ends at drawn moments, as a restart of it does. Whoever had one is told that the database was away,
 * nothing of what was begun is stored, nothing goes on outside of its transaction, and the pool has all its places afterwards.
 */

/** Of the commit in the usual run, drawn in the long one; ./test prints it. */
const SEED = Number(process.env.TEST_SEED ?? 20310314);
const MOMENTS = process.env.SOAK ? 200 : 10;

let store: TestDatabase;
let own: Connection;
beforeAll(async () => {
  store = await testDatabase();
  own = connect(store.url, { connections: 3 });
  await own.sql`create table lost_row (n integer)`;
});
afterAll(async () => {
  await own.close();
  await store.drop();
});

const moments = (most: number) => fc.sample(fc.integer({ min: 0, max: most }), { numRuns: MOMENTS, seed: SEED });
const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Ends every connection of the database but the one that it is said on. */
const endAll = () => store.connection.sql`
  select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`;
const stored = async () => (await store.connection.sql<{ n: number }[]>`select count(*)::int as n from lost_row`)[0].n;

async function outcomeOf(work: Promise<unknown>): Promise<'done' | 'away'> {
  try {
    await work;
    return 'done';
  } catch (error) {
    expect(troubleOf(error), String(error)).toMatchObject({ status: 503, type: 'database-away' });
    return 'away';
  }
}

/** As many at once as there are places: one that was lost would be waited for without end. */
async function expectWhole(): Promise<void> {
  const asked = Array.from({ length: 9 }, () => own.session(({ sql }) => sql`select 1`));
  await Promise.all(asked);
  const { open, idle, waiting } = own.counts();
  expect([open <= 3, idle, waiting]).toEqual([true, open, 0]);
}

test('a COPY whose connection ends stores nothing, and says that the database was away', async () => {
  for (const moment of moments(30)) {
    const before = await stored();
    const copying = own.transaction(async ({ client }) => {
      const copy = await copyIn(client, 'copy lost_row from stdin');
      for (let n = 0; n < 40_000; n++) await copy.write(`${n}\n`);
      await copy.end();
    });
    const outcome = outcomeOf(copying);
    await pause(moment);
    await endAll();
    const added = (await outcome) === 'done' ? 40_000 : 0;
    expect(await stored()).toBe(before + added);
  }
  await expectWhole();
});

test('a transaction whose connection ends between two statements does not go on without it', async () => {
  await own.sql`truncate lost_row`;
  for (let i = 0; i < MOMENTS; i++) {
    const broken = own.transaction(async ({ sql, database }) => {
      await sql`insert into lost_row values (1)`;
      await endAll();
      await pause(i);
      // The first one may still meet the farewell of the old connection; none after it may land on another.
      await sql`insert into lost_row values (2)`.catch(() => undefined);
      await database.execute('insert into lost_row values (3)');
    });
    expect(await outcomeOf(broken)).toBe('away');
  }
  expect(await stored()).toBe(0);
  await expectWhole();
});

test('an import whose connection ends stores all of it or nothing, and the next one comes in', async () => {
  const rows = Array.from({ length: 24_000 }, (_, i) => {
    const at = new Date(Date.UTC(2029, 0, 1 + Math.floor(i / 1000))).toISOString();
    return `${at},100,2031-06-20,call,${1 + (i % 1000)},1,1.2`;
  });
  const bring = async (symbol: string, count = rows.length) =>
    importChain(own, 'local', {
      files: [
        await spooled(
          `underlying,as_of,underlying_price,expiry,side,strike,bid,ask\n${rows
            .slice(0, count)
            .map((row) => `${symbol},${row}`)
            .join('\n')}`,
        ),
      ],
      options: importOptions.parse({}),
    });
  const isThere = async (symbol: string) =>
    (await store.connection.sql`select 1 from underlyings where symbol = ${symbol}`).length === 1;
  for (const [i, moment] of moments(1500).entries()) {
    const outcome = outcomeOf(bring(`LOST${i}`));
    await pause(moment);
    await endAll();
    const isDone = (await outcome) === 'done';
    expect(await isThere(`LOST${i}`)).toBe(isDone);
  }
  expect(await bring('FOUND', 20)).toMatchObject({ ok: true });
  const imports = await store.connection.sql`select 1 from imports i where not exists (
    select from slices s where s.import_id = i.id)`;
  expect(imports).toEqual([]);
  await expectWhole();
});

test('who listens hears again after the connection ended, and is told that something may have gone unheard', async () => {
  let [notices, begun] = [0, 0];
  const listening = listen(store.url, 'lost', { onnotice: () => notices++, onlisten: () => begun++ });
  await until(() => Promise.resolve(begun === 1));
  for (let i = 1; i <= 3; i++) {
    await endAll();
    await until(() => Promise.resolve(begun === i + 1));
    await store.connection.sql`select pg_notify('lost', '')`;
    await until(() => Promise.resolve(notices === i));
  }
  await listening.stop();
});

test('a statement that takes longer than it may is told so, and its place is free again', async () => {
  const hasty = connect(store.url, { connections: 1, seconds: 0.3 });
  const late = { status: 504, type: 'timed-out' };
  const troubles = async (work: Promise<unknown>) => troubleOf(await work.catch((error: unknown) => error));
  expect(await troubles(hasty.sql`select pg_sleep(60), ${1}::int`)).toMatchObject(late);
  expect(await troubles(hasty.database.transaction((t) => t.execute('select pg_sleep(60)')))).toBeDefined();
  expect(await hasty.sql`select 1 as one`).toEqual([{ one: 1 }]);
  await hasty.close();
});
