import { Application, databaseFromTemplate, expect, test } from '../application.ts';
import { Network } from '../network.ts';
import { openPage } from '../open-page.ts';

/*
 * Web, worker and feed as processes that reach their database over a network, which is cut for a while in the middle of their
 * work: afterwards the work goes on, nothing is lost and nothing doubled.
 */

let network: Network | undefined;
let application: Application | undefined;
test.afterAll(async () => {
  await application?.stop();
  network?.close();
});
test.setTimeout(120_000);

test('the network to the database cut for a while: pages say so, work goes on after, nothing is doubled', async ({
  page,
}) => {
  const direct = databaseFromTemplate('cut');
  network = await Network.open(direct);
  const through = new URL(direct);
  through.port = new URL(network.address).port;
  application = await Application.start('cut', { database: through.href, workers: 1 });
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
  await expect(age).toHaveText(/s old/, { timeout: 30_000 });
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
  await expect(age).toContainText('the database is away', { timeout: 20_000 });
  expect((await fetch(`${address}/api/v1/health`)).status).toBe(200);
  const ready = await fetch(`${address}/api/v1/ready`);
  expect(ready.status).toBe(503);
  expect(await ready.json()).toEqual({ status: 'not-ready', missing: ['database'] });
  network.mend();
  await expect(age).toHaveText(/s old/, { timeout: 40_000 });
  await expect.poll(async () => (await feed()).sequence, { timeout: 30_000 }).toBeGreaterThan(before.sequence + 3);
  const after = await feed();
  expect(Date.parse(after.instant) - Date.parse(before.instant)).toBe((after.sequence - before.sequence) * 10_000);
  await expect.poll(async () => (await importBars()).status, { timeout: 30_000 }).toBe(200);
  const csv = await (await fetch(`${address}/api/v1/exports/bars/CUT`)).text();
  expect(csv.trim().split('\n')).toHaveLength(1 + bars.length);
  await expect.poll(async () => (await get<{ missing: string[] }>('ready')).missing, { timeout: 20_000 }).toEqual([]);
});
