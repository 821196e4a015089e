import { DEMO_SEED, LiveMarket, liveMarketState, TODAY } from '@umwelt/market/veldmar';
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest';
import { eventBytes, Listener } from '../../src/lib/server/live/listener.ts';
import { LiveHub } from '../../src/lib/server/live/live-hub.ts';
import { readFeed, updateFeed, wantStep, watch } from '../../src/lib/server/repositories/feed.ts';
import { liveInstant, liveSlicesOf, storedInstants } from '../../src/lib/server/repositories/slices.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { demoMarket } from '../../src/lib/server/demo/demo-base.ts';
import { commandFeed, feedState } from '../../src/lib/server/services/feed-control.ts';
import { testDatabase, type TestDatabase } from './database.ts';
import { kill, killAll, startProcess, until } from './processes.ts';

let store: TestDatabase;
beforeAll(async () => {
  store = await testDatabase({ with: 'today' });
});
afterEach(async () => {
  await killAll();
  // What a killed process had sent, the database still does.
  await until(async () => (await connected()) <= store.connection.counts().open);
  await store.connection.sql`delete from feed`;
  // What it quoted last would be shown before the next one's first wave.
  await store.connection.sql`delete from live_slices`;
});
afterAll(() => store.drop());

const connected = async () =>
  (
    await store.connection.sql<{ count: number }[]>`
      select count(*)::int as count from pg_stat_activity
      where datname = current_database() and backend_type = 'client backend'`
  )[0].count;
const sequence = async () => (await readFeed(store.connection.database))?.sequence ?? -1;
const idOf = async (symbol: string) => (await findUnderlying(store.connection.database, symbol))?.id ?? 0;

test('a market taken up from its stored state goes on as if it had never stopped', async () => {
  const start = LiveMarket.startingState(demoMarket().history);
  const whole = new LiveMarket(DEMO_SEED, start);
  let broken = new LiveMarket(DEMO_SEED, start);
  // Over the close and into the next sessions: speed 600 is ten minutes a wave.
  for (let wave = 0; wave < 80; wave++) {
    const expected = await whole.next(600, wave % 20 === 0 ? ['TERN', 'RYE'] : []);
    broken = new LiveMarket(DEMO_SEED, liveMarketState.parse(JSON.parse(JSON.stringify(broken.state()))));
    const got = await broken.next(600, wave % 20 === 0 ? ['TERN', 'RYE'] : []);
    expect(got.instant).toBe(expected.instant);
    const now = whole.state().underlyings;
    for (const [symbol, state] of Object.entries(broken.state().underlyings)) {
      // Taken up, the states pass through logarithms and back: rounding at most.
      for (const name of ['price', 'variance', 'tilt', 'strength'] as const) {
        expect(Math.abs(state[name] - now[symbol][name]), `${symbol} ${name}`).toBeLessThan(
          1e-9 * (1 + now[symbol][name]),
        );
      }
    }
  }
  expect(whole.state().instant).toBeGreaterThan(TODAY + 3 * 86_400_000);
});

test('the feed waits paused, steps when asked, runs when started, and stores at its interval', async () => {
  const { database } = store.connection;
  startProcess('feed', store.url);
  await until(async () => (await feedState(database))?.state === 'paused');
  expect((await readFeed(database))?.instant.toISOString()).toBe('2031-03-14T13:00:00.000Z');
  await watch(database, ['VM50']);
  // Quoted although nothing moves, so that a page that goes live has something to show.
  await until(async () => (await liveInstant(database, await idOf('VM50'))) !== undefined);
  await commandFeed(database, { speed: 60, storeMinutes: 5 });
  await wantStep(database);
  await until(async () => (await sequence()) === 1);
  expect((await readFeed(database))?.instant.toISOString()).toBe('2031-03-14T13:01:00.000Z');
  await commandFeed(database, { action: 'start', speed: 600 });
  await watch(database, ['VM50']);
  await until(async () => (await sequence()) >= 4);
  await commandFeed(database, { action: 'pause' });
  const stored = await storedInstants(database, await idOf('VM50'));
  expect(stored.length).toBeGreaterThanOrEqual(3);
  const [measures] = await store.connection.sql<{ count: number }[]>`
    select count(*)::int as count from derived_measures where underlying_id = ${await idOf('VM50')}`;
  expect(measures.count).toBe(stored.length);
});

test('a pause is answered once the wave under way is there, and none comes after it', async () => {
  const { database } = store.connection;
  startProcess('feed', store.url);
  await until(async () => (await feedState(database))?.state === 'paused');
  await watch(database, ['VM50']);
  await commandFeed(database, { action: 'start', speed: 60 });
  await until(async () => (await sequence()) >= 1);
  let paused = -1;
  let pausing = Promise.resolve();
  await store.connection.transaction(async ({ sql }) => {
    // A wave that is under way stands at this table.
    await sql`lock table live_slices in access exclusive mode`;
    await until(async () => {
      const [{ waits }] = await store.connection.sql<{ waits: boolean }[]>`
        select exists (select from pg_locks where relation = 'live_slices'::regclass and not granted) as waits`;
      return waits;
    });
    pausing = commandFeed(database, { action: 'pause' }).then(async () => {
      paused = await sequence();
    });
  });
  await pausing;
  const beat = (await readFeed(database))?.beatAt?.getTime() ?? Infinity;
  await until(async () => ((await readFeed(database))?.beatAt?.getTime() ?? 0) > beat + 1500);
  expect(await sequence()).toBe(paused);
});

test('a killed feed is taken up where it was: no wave is lost or repeated; a second feed waits its turn', async () => {
  const { database } = store.connection;
  const first = startProcess('feed', store.url);
  await until(async () => (await feedState(database))?.state === 'paused');
  const second = startProcess('feed', store.url);
  await commandFeed(database, { action: 'start', speed: 60 });
  await watch(database, ['VM50']);
  await until(async () => (await sequence()) >= 2);
  await kill(first);
  const left = await readFeed(database);
  // The wave that was in the making when it died is in no table.
  const [row] = await liveSlicesOf(database, await idOf('VM50'));
  expect(row.instant <= (left?.instant ?? new Date(0))).toBe(true);
  await until(async () => (await sequence()) >= (left?.sequence ?? 0) + 2);
  const now = await readFeed(database);
  // A minute of market time a wave, from the demo's today on: none is missing, none came twice.
  expect(now?.instant.getTime()).toBe(TODAY + (now?.sequence ?? 0) * 60_000);
  await kill(second);
  await until(async () => (await feedState(database))?.state === 'stopped');
});

test('a slow browser gets the newest state of each topic, never a queue', async () => {
  const listener = new Listener({ topics: ['VM50', 'RYE'], client: 'one' }, () => undefined);
  for (let wave = 1; wave <= 500; wave++) {
    listener.send('VM50', eventBytes('picture', `"VM50 ${wave}"`));
    listener.send('RYE', eventBytes('picture', `"RYE ${wave}"`));
  }
  const reader = listener.stream.getReader();
  const read: string[] = [];
  for (let i = 0; i < 4; i++) read.push(new TextDecoder().decode((await reader.read()).value));
  // What was in the pipe already, then only the last of each.
  expect(read.map((text) => /"(.*)"/.exec(text)?.[1])).toEqual(['VM50 1', 'RYE 1', 'VM50 500', 'RYE 500']);
  const next = reader.read();
  listener.send('VM50', eventBytes('picture', '"VM50 501"'));
  expect(new TextDecoder().decode((await next).value)).toContain('VM50 501');
});

test('the hub brings every wave to its listeners, and the newest at once to who comes later', async () => {
  const { database } = store.connection;
  startProcess('feed', store.url);
  await until(async () => (await feedState(database))?.state === 'paused');
  const hub = new LiveHub(store.connection, { owner: 'local', most: { topics: 2, perClient: 2, all: 3 } });
  const opened = (topics: string[]) => {
    const answer = hub.open(topics, 'one');
    if (!answer.ok) throw new Error('refused');
    return answer.stream;
  };
  expect(hub.open(['A', 'B', 'C'], 'one')).toEqual({ ok: false, of: 'topics', most: 2 });
  // Of one address two, and three of all: each is told which it is.
  const others = [hub.open(['VM50'], 'two'), hub.open(['VM50'], 'two')];
  expect(hub.open(['VM50'], 'two')).toEqual({ ok: false, of: 'client', most: 2 });
  expect(hub.open(['VM50'], 'three')).toMatchObject({ ok: true });
  expect(hub.open(['VM50'], 'four')).toEqual({ ok: false, of: 'all', most: 3 });
  hub.close();
  expect(others).toMatchObject([{ ok: true }, { ok: true }]);
  const instants: string[] = [];
  const follow = async (stream: ReadableStream<Uint8Array>, into: string[]) => {
    for await (const piece of stream as unknown as AsyncIterable<Uint8Array>) {
      const asOf = /"asOf":"([^"]+)"/.exec(new TextDecoder().decode(piece))?.[1];
      if (asOf !== undefined && into.at(-1) !== asOf) into.push(asOf);
    }
  };
  const following = follow(opened(['VM50']), instants);
  await until(() => Promise.resolve(instants.length > 0));
  await updateFeed(database, { speed: 60 });
  for (let wave = 1; wave <= 3; wave++) {
    await wantStep(database);
    await until(async () => (await sequence()) === wave && instants.length === wave + 1);
  }
  // A minute of the market apart, wherever the feed before it had come to.
  expect(instants.map((t) => (Date.parse(t) - Date.parse(instants[0])) / 60_000)).toEqual([0, 1, 2, 3]);
  const later: string[] = [];
  const followingLater = follow(opened(['VM50']), later);
  await until(() => Promise.resolve(later.length > 0));
  expect(later[0]).toBe('2031-03-14T14:03:00+01:00');
  hub.close();
  await Promise.all([following, followingLater]);
});
