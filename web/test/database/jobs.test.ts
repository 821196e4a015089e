import type PgBoss from 'pg-boss';
import { dateText, dayOf, keptDays, keptInstants, sessionInstant, UNIVERSE } from '@umwelt/market/veldmar';
import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from 'vitest';
import { enqueue, type JobRequest, openQueue } from '../../src/lib/server/jobs/queue.ts';
import { work } from '../../src/lib/server/work/worker.ts';
import { cancelGroup, jobGroups, jobsOf } from '../../src/lib/server/repositories/jobs.ts';
import { slicesAt, SLICE_COLUMNS } from '../../src/lib/server/repositories/slices.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { demoMarket } from '../../src/lib/server/demo/demo-base.ts';
import { storeDemoChains, storeDemoToday } from '../../src/lib/server/demo/demo-chains.ts';
import { DERIVATION_VERSION } from '../../src/lib/server/derive/measures-of.ts';
import { enqueueRebuild } from '../../src/lib/server/services/enqueue-rebuild.ts';
import { rebuildMeasures } from '../../src/lib/server/services/rebuild-measures.ts';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import { importOptions, type ImportOptionsInput } from '../../src/lib/api/chain-import.ts';
import { closeComputePool } from '../../src/lib/server/derive/pool.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { loadPicture } from '../../src/lib/server/services/picture.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { spooled } from './spooled.ts';
import { kill, killAll, startProcess, until } from './processes.ts';

/* Jobs on the real queue, with workers that are processes of their own and are killed in the middle. */

let store: TestDatabase;
let boss: PgBoss;
beforeAll(async () => {
  store = await testDatabase({ with: 'today' });
  boss = await openQueue(store.url);
});
beforeEach(async () => {
  await store.connection.sql`delete from jobs`;
  await store.connection.sql`delete from slices`;
  await store.connection.sql`delete from derived_measures`;
  await store.connection.sql`truncate trades, listed_spreads`;
  await boss.purgeQueue('umwelt');
});
afterEach(killAll);
afterAll(async () => {
  await boss.stop({ graceful: false });
  await store.drop();
});

const days = (symbol: string, count: number) => keptDays(symbol).slice(-count - 1, -1);
function chains(symbol: string, count: number): JobRequest {
  const range = days(symbol, count);
  return {
    label: `${symbol} chains`,
    payload: { kind: 'demo-chains', symbol, from: range[0], to: range[range.length - 1] },
    priority: 1,
    weight: count,
  };
}
const put = (requests: JobRequest[], group = 'Test') =>
  enqueue(store.connection, boss, { owner: 'local', group }, requests);
const tapeCounts = async () => {
  const [row] = await store.connection.sql<{ prints: number; spreads: number }[]>`
    select (select count(*)::int from trades) as prints, (select count(*)::int from listed_spreads) as spreads`;
  return row;
};
const states = async (group = 'Test') =>
  (await jobsOf(store.connection.database, 'local', group)).map((j) => j.state).sort();
const isOver = async () => (await states()).every((s) => s !== 'waiting' && s !== 'running');

/** Works in this process until the question is answered with yes. */
async function workHere(question: () => Promise<boolean>): Promise<void> {
  const stop = new AbortController();
  const working = work(store.connection, boss, stop.signal);
  await until(question).finally(() => stop.abort());
  await working;
}

async function storedCounts() {
  const [row] = await store.connection.sql<{ slices: number; instants: number; measures: number }[]>`
    select count(*)::int as slices, count(distinct (underlying_id, instant))::int as instants,
      (select count(*)::int from derived_measures) as measures from slices`;
  return row;
}

const expectedSlices = (symbol: string, count: number) =>
  days(symbol, count).reduce((sum, day) => sum + demoMarket().slices(symbol, sessionInstant(day)).length, 0);

test('a job stores just what the simulator makes, with its measures, and a second run changes nothing', async () => {
  await put([chains('VMQ', 6)]);
  await workHere(isOver);
  expect(await states()).toEqual(['done']);
  const once = await storedCounts();
  expect(once).toEqual({ slices: expectedSlices('VMQ', 6), instants: 6, measures: 6 });
  const { database } = store.connection;
  const future = await findUnderlying(database, 'VMQ');
  const [day] = days('VMQ', 3);
  const stored = await slicesAt(database, future?.id ?? 0, new Date(sessionInstant(day)));
  demoMarket()
    .slices('VMQ', sessionInstant(day))
    .forEach((simulated, i) => {
      for (const name of SLICE_COLUMNS) expect(stored[i][name]).toEqual(simulated[name]);
      expect(stored[i].underlyingPrice).toBe(simulated.underlyingPrice);
      expect(dateText(dayOf(stored[i].expiry.getTime()))).toBe(dateText(dayOf(simulated.expiry)));
    });
  await put([chains('VMQ', 6)]);
  await workHere(isOver);
  expect(await storedCounts()).toEqual(once);
});

test('of two workers one is killed in the middle: the other takes its job up, and nothing is lost or doubled', async () => {
  const SESSIONS = process.env.SOAK ? 40 : 20;
  const symbols = ['KELPA', 'ORVEN', 'TIDEW', 'PELAG'];
  await put(symbols.map((symbol) => chains(symbol, SESSIONS)));
  const workers = [startProcess('worker', store.url), startProcess('worker', store.url)];
  const { database } = store.connection;
  // Both are in the middle of something.
  await until(async () => {
    const running = (await jobsOf(database, 'local', 'Test')).filter((j) => j.state === 'running' && j.share > 0);
    return running.length === 2;
  });
  const before = await jobsOf(database, 'local', 'Test');
  await kill(workers[0]);
  await until(isOver);
  expect(await states()).toEqual(['done', 'done', 'done', 'done']);
  const attempts = (await jobsOf(database, 'local', 'Test')).map((j) => j.attempts);
  expect(attempts.reduce((sum, n) => sum + n, 0)).toBe(5);
  expect(before.filter((j) => j.state === 'running')).toHaveLength(2);
  const expected = symbols.reduce((sum, symbol) => sum + expectedSlices(symbol, SESSIONS), 0);
  expect(await storedCounts()).toEqual({ slices: expected, instants: 4 * SESSIONS, measures: 4 * SESSIONS });
});

test('a cancelled group ends within a moment: what runs is rolled back, what waits does not begin', async () => {
  await put([chains('KELPA', 200), chains('ORVEN', 200)]);
  const { database } = store.connection;
  const isRunning = async () => (await jobsOf(database, 'local', 'Test')).some((j) => j.share > 0);
  const stop = new AbortController();
  const working = work(store.connection, boss, stop.signal);
  await until(isRunning);
  await cancelGroup(database, 'local', 'Test');
  await until(isOver);
  stop.abort();
  await working;
  expect(await states()).toEqual(['cancelled', 'cancelled']);
  expect(await storedCounts()).toEqual({ slices: 0, instants: 0, measures: 0 });
});

test('a job that waits for the database for long keeps giving signs, and is not handed out again', async () => {
  await put([chains('VMQ', 3)]);
  const { transaction, database, sql } = store.connection;
  const stop = new AbortController();
  const working = work(store.connection, boss, stop.signal);
  await transaction(async (blocking) => {
    // What the job stores waits here, as a COPY of a long file does.
    await blocking.sql`lock table derived_measures in access exclusive mode`;
    await until(async () => (await jobsOf(database, 'local', 'Test'))[0].state === 'running');
    const signs = new Set<string>();
    await until(async () => {
      const [{ at }] = await sql<{ at: string }[]>`select beat_at::text as at from jobs`;
      return signs.add(at).size > 3;
    });
  });
  await until(isOver).finally(() => stop.abort());
  await working;
  expect(await jobsOf(database, 'local', 'Test')).toMatchObject([{ state: 'done', attempts: 1 }]);
});

test('a worker that is asked to stop gives its job back at once', async () => {
  await put([chains('KELPA', 200)]);
  const { database } = store.connection;
  const worker = startProcess('worker', store.url);
  await until(async () => (await jobsOf(database, 'local', 'Test')).some((j) => j.share > 0));
  await kill(worker, 'SIGTERM');
  expect(await states()).toEqual(['waiting']);
});

test('a job that cannot be done is tried again, then counts as failed and says why', async () => {
  await put([{ ...chains('KELPA', 1), payload: { kind: 'demo-chains', symbol: 'NOBODY', from: 1, to: 2 } }]);
  await workHere(isOver);
  expect(await states()).toEqual(['failed']);
  const [group] = await jobGroups(store.connection.database, 'local');
  expect(group).toMatchObject({ failed: 1, error: expect.stringContaining('NOBODY') as string });
});

test('measures of another version are made again by jobs, once', async () => {
  await put([chains('VMQ', 3), chains('TERN', 2)]);
  await workHere(isOver);
  const { sql, database } = store.connection;
  await sql`update derived_measures set version = 1, atm_by_tenor = '{}'`;
  await sql`delete from derived_measures where instant = (select min(instant) from derived_measures)`;
  await enqueueRebuild(store.connection, boss, 'local');
  // Asked again while they wait, nothing is queued twice.
  expect(await enqueueRebuild(store.connection, boss, 'local')).toBe(0);
  const group = (await jobGroups(database, 'local')).find((g) => g.group.startsWith('Measures'));
  await workHere(async () => (await states(group?.group)).every((s) => s === 'done'));
  const rows = await sql<{ version: number; tenors: number }[]>`
    select distinct version, cardinality(atm_by_tenor) as tenors from derived_measures`;
  expect([...rows]).toEqual([{ version: DERIVATION_VERSION, tenors: 7 }]);
  expect((await storedCounts()).measures).toBe(5);
});

test.runIf(process.env.SOAK)('a seed that is killed begins again and ends as if nothing had been', async () => {
  const { sql, database } = store.connection;
  await sql`delete from underlyings where source = 'demo'`;
  const first = startProcess('prepare', store.url, '--demo');
  await until(async () => (await sql`select 1 from slices limit 1`).length > 0);
  await kill(first);
  expect(await jobGroups(database, 'local')).toEqual([]);
  const second = startProcess('prepare', store.url, '--demo');
  await until(() => Promise.resolve(second.exitCode !== null));
  expect(second.exitCode).toBe(0);
  const [group] = await jobGroups(database, 'local');
  expect(group.waiting).toBeGreaterThan(100);
  const [row] = await sql<{ underlyings: number; instants: number }[]>`
    select count(distinct underlying_id)::int as underlyings, count(distinct instant)::int as instants from slices`;
  expect(row).toEqual({ underlyings: UNIVERSE.length, instants: 1 });
});

test("a session's tape and listed spreads are stored once, whatever today's chain or a second run brings", async () => {
  const today = keptDays('RYE').at(-1) as number;
  await storeDemoToday(store.connection, 'RYE');
  const range = { symbol: 'RYE', from: today, to: today };
  const noTick = () => Promise.resolve();
  await storeDemoChains(store.connection, range, noTick);
  const once = await tapeCounts();
  let expected = { prints: 0, spreads: 0 };
  let before: ReturnType<ReturnType<typeof demoMarket>['slices']> = [];
  for (const instant of keptInstants('RYE', today)) {
    const slices = demoMarket().slices('RYE', instant);
    expected = {
      prints: expected.prints + demoMarket().trades('RYE', before, slices).length,
      spreads: expected.spreads + demoMarket().spreads('RYE', slices).length,
    };
    before = slices;
  }
  expect(once).toEqual(expected);
  await storeDemoChains(store.connection, range, noTick);
  expect(await tapeCounts()).toEqual(once);
});

test('what an import changes is derived by a worker: until then a page shows it all the same, and says that its past waits', async () => {
  const chain = (level: number) =>
    ['underlying,as_of,underlying_price,expiry,side,strike,bid,ask']
      .concat(
        [10, 11, 12].flatMap((day) =>
          [90, 95, 100, 105, 110].flatMap((strike) =>
            (['call', 'put'] as const).map((side) => {
              const value = Math.max(0, side === 'call' ? 100 - strike : strike - 100) + level;
              return `ORDER,2031-03-${day}T12:00:00Z,100,2031-06-20,${side},${strike},${value},${value + 0.1}`;
            }),
          ),
        ),
      )
      .join('\n');
  const bring = async (text: string, o: ImportOptionsInput = {}) =>
    importChain(store.connection, 'local', {
      files: [await spooled(text)],
      options: importOptions.parse(o),
      queue: () => Promise.resolve(boss),
    });
  const shown = async () => {
    const loaded = await loadPicture(store.connection.database, 'ORDER', asOfContext.parse({}));
    if (!loaded.ok) throw new Error(loaded.reason);
    const { atm30, waiting, history } = loaded.picture;
    return { atm30, waiting, history: history.map((h) => h.atm30) };
  };
  const group = 'Measures of ORDER';
  expect(await bring('underlying,as_of\nORDER,soon', { badRows: 'refuse' })).toMatchObject({ ok: false });
  expect(await jobsOf(store.connection.database, 'local', group)).toEqual([]);

  expect(await bring(chain(3))).toMatchObject({ ok: true });
  const [before] = [await shown()];
  expect(before.atm30).toBeGreaterThan(0.1);
  expect(before).toMatchObject({ waiting: 2, history: [] });
  expect(await states(group)).toEqual(['waiting']);
  await workHere(async () => (await states(group)).every((s) => s === 'done'));
  const after = await shown();
  expect(after).toMatchObject({ atm30: before.atm30, waiting: 0 });
  expect(after.history).toEqual([before.atm30, before.atm30].map((level) => expect.closeTo(level ?? NaN, 2)));

  // Of other quotes there are other measures, and none of the old ones in between.
  expect(await bring(chain(5))).toMatchObject({ ok: true });
  expect(await shown()).toMatchObject({ waiting: 2, history: [] });
  await workHere(async () => (await states(group)).every((s) => s === 'done'));
  const higher = await shown();
  expect(higher.waiting).toBe(0);
  for (const [i, level] of higher.history.entries()) expect(level).toBeGreaterThan(after.history[i] + 0.05);

  // Deleted while its past is derived, nothing of it is left to do.
  expect(await bring(chain(7))).toMatchObject({ ok: true });
  const { sql } = store.connection;
  const all = {
    underlyingId: (await findUnderlying(store.connection.database, 'ORDER'))?.id ?? 0,
    from: '2031-01-01',
    to: '2032-01-01',
  };
  const deriving = await store.connection.transaction(async (deleting) => {
    await deleting.sql`delete from underlyings where symbol = 'ORDER'`;
    const working = rebuildMeasures(store.connection, all, () => Promise.resolve());
    // It has read what it derives from, and waits for the deletion where it stores that.
    await until(async () => (await sql`select 1 from pg_locks where not granted`).length > 0);
    return { working };
  });
  await deriving.working;
  await closeComputePool();
});
