import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

/* Symbols that addresses, topics and files have to encode; and those from before there was a rule. */

const heston = (symbol: string) =>
  readFileSync(new URL('files/heston-plain.csv', import.meta.url), 'utf8').replaceAll('FJRD', symbol);
const shownInstant = async (page: Page) =>
  Date.parse((await page.getByRole('banner').locator('time').getAttribute('datetime')) ?? '');

test('a chain of A/B opens, is compared, exports and imports again, and does not stop the stream of other tabs', async ({
  page,
  context,
  request,
}) => {
  const bring = (data: string | Buffer) =>
    request.post('/api/v1/imports/chains', { data, headers: { 'content-type': 'text/csv' } });
  expect(await (await bring(heston('A/B'))).json()).toMatchObject({ status: 'imported', newSlices: 8 });
  await openPage(page, '/skew/VM50');
  await page.keyboard.press('/');
  await page.keyboard.type('A/B');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/skew\/A%2FB/);
  await expect(page.getByRole('heading', { name: 'A/B' })).toBeVisible();
  await page.keyboard.press('3');
  await expect(page).toHaveURL(/\/term\/A%2FB/);

  await openPage(page, '/skew/VM50?skew=others');
  const field = page.getByLabel('Underlying to compare with');
  await field.fill('A/B');
  await field.press('Enter');
  await expect(page.getByTestId('skew-others').locator('figure')).toHaveCount(2);

  await openPage(page, '/data');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export chains of A/B as csv' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toMatch(/^A%2FB-2031-03-14T1630\.csv$/);
  expect(await (await bring(readFileSync(await file.path()))).json()).toMatchObject({ newSlices: 0, changedSlices: 0 });

  await openPage(page, '/term/A%2FB?asOf=live');
  const other = await context.newPage();
  await openPage(other, '/term/VM50?asOf=live');
  await request.post('/api/v1/feed', { data: { action: 'start', speed: 60 } });
  const start = await shownInstant(other);
  await expect.poll(async () => (await shownInstant(other)) > start).toBe(true);
  await request.post('/api/v1/feed', { data: { action: 'pause' } });
});

test('a symbol from before the rule works, is listed, and is given another: links and old addresses follow', async ({
  page,
  request,
  application,
}) => {
  await request.post('/api/v1/imports/chains', { data: heston('OLDX'), headers: { 'content-type': 'text/csv' } });
  const [version] = readdirSync('/usr/lib/postgresql').sort().reverse();
  execFileSync(`/usr/lib/postgresql/${version}/bin/psql`, [
    application.database ?? '',
    '-c',
    "update underlyings set symbol = 'old..%x' where symbol = 'OLDX'",
  ]);
  const odd = encodeURIComponent('old..%x');
  await openPage(page, `/skew/${odd}`);
  await expect(page.getByRole('heading', { name: 'old..%x' })).toBeVisible();
  const link = { donor: 'old..%x', kind: 'total', shift: 0, ratio: 1 };
  expect((await request.put('/api/v1/underlyings/VMQ/borrow', { data: link })).status()).toBe(200);

  await openPage(page, '/data');
  const list = page.getByTestId('odd-symbols');
  await expect(list).toContainText('old..%x');
  const name = list.getByLabel('New symbol of old..%x');
  await name.fill('kelpa');
  await list.getByRole('button', { name: 'Rename' }).click();
  await expect(page.getByRole('alert')).toContainText('another underlying is called kelpa, in this or another case');
  await name.fill('NEW.X');
  await list.getByRole('button', { name: 'Rename' }).click();
  await expect(list).toBeHidden();

  // The address that somebody kept leads on, with all that stands in it; so does the API.
  await openPage(page, `/skew/${odd}?axis=delta`);
  await expect(page).toHaveURL(/\/skew\/NEW\.X\?axis=delta/);
  expect(await (await request.get(`/api/v1/underlyings/${odd}`)).json()).toMatchObject({ symbol: 'NEW.X' });
  const { state } = (await (await request.get('/api/v1/underlyings/VMQ/borrow')).json()) as {
    state: { link: { donor: string } };
  };
  expect(state.link.donor).toBe('NEW.X');
  await request.delete('/api/v1/underlyings/VMQ/borrow');
  // In another case it is the same.
  await openPage(page, '/chain/new.x');
  await expect(page).toHaveURL(/\/chain\/NEW\.X/);
  expect((await request.delete('/api/v1/underlyings/NEW.X')).status()).toBe(204);
  expect((await request.delete('/api/v1/underlyings/VM50')).status()).toBe(404);
});
