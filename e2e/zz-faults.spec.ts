import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, type Page, test } from '@playwright/test';
import { Network } from './network.ts';
import { openPage } from './open-page.ts';

/* What goes wrong in the night: the application says so, recovers by itself, and nothing is lost. Last, because they break. */

/** Waves, one a second, that pass while the browser is cut off: about a minute. */
const OFFLINE_WAVES = 55;

test.setTimeout(150_000);
const root = fileURLToPath(new URL('..', import.meta.url));
const database = (command: 'start' | 'stop') =>
  execFileSync(`${root}scripts/database.sh`, [command], { stdio: 'ignore', timeout: 60_000 });
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
}) => {
  const state = async () =>
    (await (await request.get('/api/v1/feed')).json()) as { sequence: number; instant: string; speed: number };
  const before = await state();
  const folder = process.env.DATA_DIR ?? `${root}/.data`;
  process.kill(Number(readFileSync(`${folder}/feed.pid`, 'utf8')), 'SIGKILL');
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
