import type { Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

/* GUSTA's market expects a dividend of 2.10 on 13 May that nobody has announced; NIVVA costs 28 % a year to borrow. */

const forwardOf = async (page: Page) =>
  Number(await page.locator('[data-figure="forward~2031-05-16"]').first().textContent());

test('take over a dividend that the quotes imply as known, and give it back', async ({ page, request }) => {
  await openPage(page, '/term/GUSTA');
  const carry = page.getByTestId('carry');
  await expect(carry).toContainText('implied by the quotes of all expiries together');
  await expect(page.getByRole('complementary').first()).toContainText(
    /a dividend of 2\.\d\d ± 0\.0\d about 1[1-4] May/,
  );
  const implied = Number(await carry.locator('[data-figure="impliedDividend~2031-05-16"]').textContent());
  expect(Math.abs(implied - 2.1)).toBeLessThan(0.06);
  const before = await forwardOf(page);
  expect(before).toBeLessThan(44.2);

  await carry.getByRole('button', { name: /take over as known/ }).click();
  await expect(carry).toContainText('taken over as known');
  await expect(page.getByRole('banner')).toContainText('carry taken');
  // What is known now explains the quotes: nothing is inferred any more, and the forward stays.
  await expect(carry.locator('table')).toHaveCount(0);
  expect(Math.abs((await forwardOf(page)) - before)).toBeLessThan(0.05);
  const kept = (await (await request.get('/api/v1/underlyings/GUSTA/carry')).json()) as {
    source: string;
    taken: { dividends: { amount: number }[] };
  };
  expect(kept.source).toBe('taken');
  expect(Math.abs(kept.taken.dividends[0].amount - 2.1)).toBeLessThan(0.06);

  await carry.getByRole('button', { name: 'give back' }).click();
  await expect(carry).toContainText('implied by the quotes of all expiries together');
  expect((await request.delete('/api/v1/underlyings/GUSTA/carry')).status()).toBe(404);
  // Nothing is inferred of European options, and so nothing can be taken over.
  const terms = { from: '2031-03-14T14:00:00+01:00', financing: 0, borrow: 0.1, dividends: [] };
  expect((await request.put('/api/v1/underlyings/VM50/carry', { data: terms })).status()).toBe(409);
  const wrong = await request.put('/api/v1/underlyings/GUSTA/carry', { data: { ...terms, borrow: 3 } });
  expect(wrong.status()).toBe(400);
  expect(await wrong.text()).toContain('borrow');
});

test('a share that is dear to borrow: Reading, Workings and export tell the same cost, and one can type another', async ({
  page,
  request,
}) => {
  await openPage(page, '/term/NIVVA');
  const figure = page.locator('[data-figure=implied-borrow]').first();
  await figure.click();
  const workings = page.getByRole('complementary', { name: 'Workings' });
  await expect(workings).toContainText(/Implied cost to borrow \+2[78]\.\d+ %/);
  await expect(workings).toContainText('r = curve + s, q = known + b');
  const csv = await (await request.get('/api/v1/underlyings/NIVVA/carry?format=csv')).text();
  const rows = csv
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  const borrow = rows[0].indexOf('borrow');
  for (const row of rows.slice(2)) expect(Math.abs(Number(row[borrow]) - 0.28)).toBeLessThan(0.02);
  // Theory of an American call, at what the quotes imply and with nothing to borrow.
  const theory = async (query: string) => {
    const answer = await request.get(`/api/v1/underlyings/NIVVA/chain?expiry=2031-12-19${query}`);
    const { quotes } = (await answer.json()) as { quotes: { strike: number; side: string; standing: string }[] };
    return quotes.filter((q) => q.standing === 'inside').length / quotes.length;
  };
  expect(await theory('')).toBeGreaterThan(0.9);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^assumes/ }).click();
  await page.getByRole('button', { name: 'typed', exact: true }).first().click();
  await page.getByLabel('borrow, % a year').fill('300');
  await page.getByLabel('borrow, % a year').press('Enter');
  await expect(page.getByText('Borrow must lie between −50 and 200 % a year.')).toBeVisible();
  await page.getByLabel('borrow, % a year').fill('28');
  await page.getByLabel('borrow, % a year').press('Enter');
  await expect(page).toHaveURL(/carry=typed/);
  await expect(page).toHaveURL(/borrowCost=0.28/);
  await expect(page.getByRole('banner')).toContainText('carry typed');
});

test('the Pricer takes an inferred dividend and shows it in readable digits', async ({ page }) => {
  await openPage(page, '/pricer/GUSTA?tenor=200');
  await expect(page.getByLabel('dividend 1, days or date')).toHaveValue(/^\d+(\.\d{1,2})?$/);
  await expect(page.getByLabel('dividend 1, amount')).toHaveValue(/^2\.\d{1,4}$/);
});
