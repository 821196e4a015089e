import { execFileSync, spawn } from 'node:child_process';
import { readdirSync } from 'node:fs';
import type { Page } from '@playwright/test';
import fc from 'fast-check';
import { expect, testAlone as test } from '../application.ts';
import { Application, databaseFromTemplate, freePort, root } from '../running-application.ts';
import { Network } from '../network.ts';
import { openPage } from '../open-page.ts';

/* What goes wrong in the night: the application says so, recovers by itself, and nothing is lost. Last, because they break. */

/** Times that the database is stopped under an import, at drawn moments; in the long run for half a minute each. */
const STOPS = process.env.SOAK ? 10 : 2;
const SEED = Number(process.env.TEST_SEED ?? 20310314);
/** Waves, one a second, that pass while the browser is cut off. */
const OFFLINE_WAVES = process.env.SOAK ? 55 : 12;

const database = (command: 'start' | 'stop') =>
  execFileSync(`${root}scripts/database.sh`, [command], { stdio: 'ignore' });
const pidOf = async (application: Application, kind: 'server' | 'worker' | 'feed') =>
  (await application.processes()).filter((p) => p.kind === kind && p.silentFor < 5).at(-1)?.pid ?? NaN;
const shownInstant = async (page: Page) =>
  Date.parse((await page.getByRole('banner').locator('time').getAttribute('datetime')) ?? '');
const moves = async (page: Page) => {
  const start = await shownInstant(page);
  await expect.poll(async () => (await shownInstant(page)) > start).toBe(true);
};

test.describe('under a live page', () => {
  test.beforeEach(async ({ page, request }) => {
    await request.post('/api/v1/feed', { data: { action: 'start', speed: 10 } });
    await openPage(page, '/term/VM50?asOf=live');
    await moves(page);
  });
  test.afterEach(async ({ request }) => {
    await request.post('/api/v1/feed', { data: { action: 'pause', speed: 60 } });
  });

  test('the database stopped and started again under a live page', async ({ page, request }) => {
    const age = page.getByTestId('live-age');
    const imports = await (await request.get('/api/v1/imports')).text();
    database('stop');
    try {
      await expect(age).toContainText('the database is away');
      // What was shown stays, with its instant.
      await expect(page.locator('[data-figure=price]').first()).not.toBeEmpty();
      // Another page says what is wrong, and what becomes of it.
      const other = await page.context().newPage();
      await other.goto('/term/KELPA');
      await expect(other.getByText('The database is away.')).toBeVisible();
      await other.close();
    } finally {
      database('start');
    }
    await expect(age).toHaveText(/s old/);
    await moves(page);
    expect(await (await request.get('/api/v1/imports')).text()).toBe(imports);
    await page.keyboard.press('4');
    await expect(page).toHaveURL(/skew\/VM50/);
    await moves(page);
  });

  test('the feed killed: the page says so, it comes back by itself, and no wave is missing', async ({
    page,
    request,
    application,
  }) => {
    const state = async () =>
      (await (await request.get('/api/v1/feed')).json()) as { sequence: number; instant: string; speed: number };
    const before = await state();
    process.kill(await pidOf(application, 'feed'), 'SIGKILL');
    await moves(page);
    await expect.poll(async () => (await state()).sequence).toBeGreaterThan(before.sequence + 2);
    const after = await state();
    const waves = after.sequence - before.sequence;
    expect(Date.parse(after.instant) - Date.parse(before.instant)).toBe(waves * 10_000);
  });

  test('the browser without a network for a while: it says since when, and catches up by itself', async ({
    page,
    request,
    baseURL,
  }) => {
    const network = await Network.open(baseURL ?? '');
    try {
      await openPage(page, `${network.address}/term/VM50?asOf=live`);
      await moves(page);
      network.cut();
      const age = page.getByTestId('live-age');
      await expect(age).toContainText('no connection');
      const frozen = await shownInstant(page);
      // Market time goes on without it.
      const sequence = async () =>
        ((await (await request.get('/api/v1/feed')).json()) as { sequence: number }).sequence;
      const before = await sequence();
      await expect.poll(sequence).toBeGreaterThan(before + OFFLINE_WAVES);
      expect(await shownInstant(page)).toBe(frozen);
      network.mend();
      await expect(age).toHaveText(/s old/);
      // Nothing to catch up with one by one: the newest state is there at once.
      await expect.poll(() => shownInstant(page)).toBeGreaterThanOrEqual(frozen + 10_000 * OFFLINE_WAVES);
    } finally {
      network.close();
    }
  });
});

test('the database stopped under an import: it is answered, stores all or nothing, and the same processes go on', async ({
  application,
}) => {
  const file = (symbol: string) =>
    ['underlying,as_of,underlying_price,expiry,side,strike,bid,ask']
      .concat(
        Array.from({ length: 24_000 }, (_, i) => {
          const at = new Date(Date.UTC(2029, 0, 1 + Math.floor(i / 1000))).toISOString();
          return `${symbol},${at},100,2031-06-20,call,${1 + (i % 1000)},1,1.2`;
        }),
      )
      .join('\n');
  const post = (symbol: string) =>
    fetch(`${application.address}/api/v1/imports/chains`, {
      method: 'POST',
      headers: { 'content-type': 'text/csv' },
      body: file(symbol),
    });
  const pids = async () => (await application.processes()).filter((p) => p.kind !== 'feed').map((p) => p.pid);
  const before = await pids();
  const moments = fc.sample(fc.integer({ min: 0, max: 2500 }), { numRuns: STOPS, seed: SEED });
  for (const [i, moment] of moments.entries()) {
    const symbol = `STOPPED${i}`;
    const answering = post(symbol);
    await new Promise((resolve) => setTimeout(resolve, moment));
    database('stop');
    try {
      if (process.env.SOAK) await new Promise((resolve) => setTimeout(resolve, 30_000));
      const answer = await fetch(`${application.address}/api/v1/underlyings`);
      expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, expect.stringMatching(/^\d+$/)]);
    } finally {
      database('start');
    }
    await application.ready();
    // It may have been through before; else it says that the database was away.
    const answer = await answering;
    if (!answer.ok) expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, expect.any(String)]);
    const stored = await fetch(`${application.address}/api/v1/underlyings/${symbol}`);
    expect(stored.status).toBe(answer.ok ? 200 : 404);
    const again = (await (await post(symbol)).json()) as { status: string; slices: number };
    expect(again).toMatchObject({ status: answer.ok ? 'unchanged' : 'imported' });
    const instants = (await (await fetch(`${application.address}/api/v1/underlyings/${symbol}/instants`)).json()) as {
      instants: string[];
    };
    expect(instants.instants).toHaveLength(24);
  }
  expect(await pids()).toEqual(before);
});

test('eight stalled uploads keep nobody waiting, and a server killed meanwhile leaves nothing of them', async ({
  application,
}) => {
  const header = 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask\n';
  const row = (symbol: string) => `${symbol},2031-03-14T13:00:00Z,100,2031-06-20,call,100,1,1.2\n`;
  const folder = `${application.folder}/apart`;
  const serve = async () => {
    const port = await freePort();
    const address = `http://127.0.0.1:${port}`;
    const server = spawn(process.execPath, [`${root}web/build-processes/serve.js`], {
      env: {
        ...process.env,
        DATABASE_URL: application.database,
        DATA_DIR: folder,
        HOST: '127.0.0.1',
        PORT: String(port),
        ORIGIN: address,
      },
      stdio: 'ignore',
    });
    const isReady = () =>
      fetch(`${address}/api/v1/ready`).then(
        (r) => r.ok,
        () => false,
      );
    await expect.poll(isReady).toBe(true);
    return { address, server };
  };
  const first = await serve();
  const post = (address: string, body: BodyInit) =>
    fetch(`${address}/api/v1/imports/chains`, {
      method: 'POST',
      headers: { 'content-type': 'text/csv' },
      body,
      duplex: 'half',
    } as RequestInit);
  // The beginning of a file, and then nothing more.
  const stalled = Array.from({ length: 8 }, () =>
    post(
      first.address,
      new ReadableStream<Uint8Array>({
        start: (sink) => sink.enqueue(new TextEncoder().encode(header + row('STALLED'))),
      }),
    ).then(
      (r) => r.status,
      () => 'broken',
    ),
  );
  const spooled = () => readdirSync(`${folder}/spool`).flatMap((name) => readdirSync(`${folder}/spool/${name}`));
  await expect.poll(() => spooled().length).toBe(8);
  const other = await post(first.address, header + row('UNHINDERED'));
  expect(await other.json()).toMatchObject({ status: 'imported', rows: 1 });
  expect((await fetch(`${first.address}/term/VM50`)).status).toBe(200);
  first.server.kill('SIGKILL');
  expect(await Promise.all(stalled)).toEqual(Array(8).fill('broken'));
  const second = await serve();
  try {
    // What the killed one had begun is gone with the first use of the next one's.
    const again = await post(second.address, header + row('STALLED'));
    expect(await again.json()).toMatchObject({ status: 'imported', rows: 1, newSlices: 1 });
    expect(spooled()).toEqual([]);
    expect(readdirSync(`${folder}/spool`)).toEqual([String(second.server.pid)]);
  } finally {
    second.server.kill('SIGKILL');
  }
});

/*
 * Web, worker and feed as processes that reach their database over a network, which is cut for a while in the middle of their
 * work: afterwards the work goes on, nothing is lost and nothing doubled.
 */
test('the network to the database cut for a while: pages say so, work goes on after, nothing is doubled', async ({
  page,
}) => {
  const direct = databaseFromTemplate('cut');
  const network = await Network.open(direct);
  const through = new URL(direct);
  through.port = new URL(network.address).port;
  const application = await Application.start('cut', { database: through.href, workers: 1 });
  try {
    const { address } = application;
    const get = async <T>(path: string) => (await (await fetch(`${address}/api/v1/${path}`)).json()) as T;
    const feed = () => get<{ sequence: number; instant: string }>('feed');
    await fetch(`${address}/api/v1/feed`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ action: 'start', speed: 10 }),
    });
    await openPage(page, `${address}/term/VM50?asOf=live`);
    const age = page.getByTestId('live-age');
    await expect(age).toHaveText(/s old/);
    const before = await feed();
    const bars = Array.from(
      { length: 3000 },
      (_, i) => `CUT,${new Date(Date.UTC(2010, 0, 1 + i)).toISOString().slice(0, 10)},1,1,1,1,1`,
    );
    const importBars = () =>
      fetch(`${address}/api/v1/imports/tables/bars`, {
        method: 'POST',
        headers: { 'content-type': 'text/csv' },
        body: `underlying,session,open,high,low,close,volume\n${bars.join('\n')}`,
      });
    const interrupted = importBars();
    network.cut();
    // It fails with a word about the database, or had been stored in time; never half.
    const answer = await interrupted;
    if (!answer.ok) expect(await answer.json()).toMatchObject({ status: 503, type: 'database-away' });
    await expect(age).toContainText('the database is away');
    expect((await fetch(`${address}/api/v1/health`)).status).toBe(200);
    const ready = await fetch(`${address}/api/v1/ready`);
    expect(ready.status).toBe(503);
    expect(await ready.json()).toEqual({ status: 'not-ready', missing: ['database'] });
    network.mend();
    await expect(age).toHaveText(/s old/);
    await expect.poll(async () => (await feed()).sequence).toBeGreaterThan(before.sequence + 3);
    const after = await feed();
    expect(Date.parse(after.instant) - Date.parse(before.instant)).toBe((after.sequence - before.sequence) * 10_000);
    await expect.poll(async () => (await importBars()).status).toBe(200);
    const csv = await (await fetch(`${address}/api/v1/exports/bars/CUT`)).text();
    expect(csv.trim().split('\n')).toHaveLength(1 + bars.length);
    await expect.poll(async () => (await get<{ missing: string[] }>('ready')).missing).toEqual([]);
  } finally {
    await application.stop();
    network.close();
  }
});
