import { execFileSync, spawn } from 'node:child_process';
import type { Page } from '@playwright/test';
import { type Application, expect, root, test } from '../application.ts';
import postgres from 'postgres';
import { Network } from '../network.ts';
import { openPage } from '../open-page.ts';

/* What goes wrong in the night: the application says so, recovers by itself, and nothing is lost. Last, because they break. */

/** Waves, one a second, that pass while the browser is cut off: about a minute. */
const OFFLINE_WAVES = 55;

test.setTimeout(150_000);
const database = (command: 'start' | 'stop') =>
  execFileSync(`${root}scripts/database.sh`, [command], { stdio: 'ignore', timeout: 60_000 });
const pidOf = async (application: Application, kind: 'server' | 'worker' | 'feed') =>
  (await application.processes()).filter((p) => p.kind === kind && p.silentFor < 5).at(-1)?.pid ?? NaN;
const shownInstant = async (page: Page) =>
  Date.parse((await page.getByRole('banner').locator('time').getAttribute('datetime')) ?? '');
const moves = async (page: Page) => {
  const start = await shownInstant(page);
  await expect.poll(async () => (await shownInstant(page)) > start, { timeout: 30_000 }).toBe(true);
};

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
    await expect(age).toContainText('the database is away', { timeout: 20_000 });
    // What was shown stays, with its instant.
    await expect(page.locator('[data-figure=price]').first()).not.toBeEmpty();
  } finally {
    database('start');
  }
  await expect(age).toHaveText(/s old/, { timeout: 40_000 });
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
    await expect(age).toContainText('no connection', { timeout: 20_000 });
    const frozen = await shownInstant(page);
    // Market time goes on without it.
    const sequence = async () => ((await (await request.get('/api/v1/feed')).json()) as { sequence: number }).sequence;
    const before = await sequence();
    await expect.poll(sequence, { timeout: 90_000 }).toBeGreaterThan(before + OFFLINE_WAVES);
    expect(await shownInstant(page)).toBe(frozen);
    network.mend();
    await expect(age).toHaveText(/s old/, { timeout: 20_000 });
    // Nothing to catch up with one by one: the newest state is there at once.
    await expect.poll(() => shownInstant(page)).toBeGreaterThanOrEqual(frozen + 10_000 * OFFLINE_WAVES);
  } finally {
    network.close();
  }
});

test('a server killed in the middle of an upload leaves nothing of it, and the file imports afterwards', async ({
  request,
}) => {
  // Well beyond what is read before the first row is stored, to tell how the file is written.
  const ROWS = 10_000;
  const header = 'underlying,as_of,underlying_price,expiry,side,strike,bid,ask\n';
  const rows = Array.from({ length: ROWS }, (_, i) => {
    const day = String(1 + (Math.floor(i / 200) % 28)).padStart(2, '0');
    const month = String(1 + Math.floor(i / 5600)).padStart(2, '0');
    const at = `2030-${month}-${day}T17:30:00+01:00`;
    return `SLOW,${at},100,2031-06-20,${i % 200 < 100 ? 'call' : 'put'},${50 + (i % 100)},1,1.2`;
  });
  const whole = header + rows.join('\n');
  const url = execFileSync(`${root}scripts/database.sh`, ['url'], { encoding: 'utf8' });
  const sql = postgres(url, { max: 1 });
  const address = 'http://127.0.0.1:4391';
  const server = spawn(process.execPath, [`${root}web/build/index.js`], {
    env: {
      ...process.env,
      DATABASE_URL: url,
      HOST: '127.0.0.1',
      PORT: '4391',
      ORIGIN: address,
      BODY_SIZE_LIMIT: 'Infinity',
    },
    stdio: 'ignore',
  });
  try {
    await expect
      .poll(() =>
        fetch(`${address}/api/v1/health`).then(
          (r) => r.ok,
          () => false,
        ),
      )
      .toBe(true);
    const before = await (await request.get('/api/v1/imports')).text();
    // Most of the file, and then nothing more: the server waits for the rest inside its transaction.
    const body = new ReadableStream<Uint8Array>({
      start: (sink) => sink.enqueue(new TextEncoder().encode(whole.slice(0, Math.floor(0.8 * whole.length)))),
    });
    const upload = fetch(`${address}/api/v1/imports/chains`, {
      method: 'POST',
      headers: { 'content-type': 'text/csv' },
      body,
      duplex: 'half',
    } as RequestInit).then(
      () => 'answered',
      () => 'broken',
    );
    const taking = async () =>
      (await sql`select 1 from pg_stat_activity where query like 'copy staged_quote%' and state <> 'idle'`).length;
    await expect.poll(taking, { timeout: 30_000 }).toBe(1);
    server.kill('SIGKILL');
    expect(await upload).toBe('broken');
    await expect.poll(taking).toBe(0);
    expect((await request.get('/api/v1/underlyings/SLOW')).status()).toBe(404);
    expect(await (await request.get('/api/v1/imports')).text()).toBe(before);
    const again = await request.post('/api/v1/imports/chains', {
      data: whole,
      headers: { 'content-type': 'text/csv' },
    });
    expect(await again.json()).toMatchObject({
      status: 'imported',
      rows: ROWS,
      slices: ROWS / 200,
      newSlices: ROWS / 200,
    });
  } finally {
    server.kill('SIGKILL');
    await sql.end();
  }
});
