import { readFileSync } from 'node:fs';
import type { Locator } from '@playwright/test';
import type { MeasuredResponse } from '../web/src/lib/api/measured.ts';
import type { TradesResponse } from '../web/src/lib/api/traded.ts';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

/** Number on the screen: thin spaces, a real minus sign. */
const numberOf = (text: string) => Number.parseFloat(text.replace(/[\s\u202f]/g, '').replace('−', '-'));
const cells = (table: Locator, column: string) => table.locator(`tbody [data-column="${column}"]`);

test('a ladder by keyboard alone: moved through like a sheet, copied, sorted by two columns, made wider', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openPage(page, '/chain/VM50?expiry=2031-04-18&sides=list');
  const ladder = page.getByTestId('ladder');
  await expect(ladder).toHaveAttribute('aria-busy', 'false');
  const strikes = await cells(ladder, 'strike').allTextContents();
  expect(strikes.length).toBeGreaterThan(20);
  await expect(ladder).toHaveAttribute('aria-rowcount', String(strikes.length + 1));

  // One cell is reached by Tab; arrows go on from it.
  await expect(ladder.locator('tbody td[tabindex="0"]')).toHaveCount(1);
  await ladder.locator('tbody td[tabindex="0"]').focus();
  for (const key of ['ArrowDown', 'ArrowDown', 'ArrowRight', 'ArrowRight']) await page.keyboard.press(key);
  const at = (row: number, column: string) =>
    ladder.locator(`tr[aria-rowindex="${row + 2}"] [data-column="${column}"]`);
  await expect(at(2, 'bid')).toBeFocused();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(ladder.locator('[aria-selected=true]')).toHaveCount(4);
  await page.keyboard.press('Control+c');
  const copied = await page.evaluate(() => navigator.clipboard.readText());
  const wanted = [];
  for (const row of [2, 3])
    wanted.push([await at(row, 'bid').innerText(), await at(row, 'ask').innerText()].join('\t'));
  expect(copied).toBe(wanted.join('\n').replace(/\u202f/g, ''));
  expect(copied.split(/[\t\n]/).every((text) => Number.isFinite(Number(text)))).toBe(true);
  // Escape takes the selection back, and then what stands in the cell opens and gives the keyboard back.
  await page.keyboard.press('Escape');
  await expect(ladder.locator('[aria-selected=true]')).toHaveCount(0);
  await page.keyboard.press('Control+End');
  await expect(ladder.locator(`tr[aria-rowindex="${strikes.length + 1}"] td:last-child`)).toBeFocused();
  await page.keyboard.press('Control+Home');
  for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  const drawer = page.getByRole('complementary', { name: 'Workings' });
  await expect(drawer).toContainText('Theoretical value');
  await page.keyboard.press('Escape');
  await expect(at(0, 'theory')).toBeFocused();

  // By side, and within it by bid, the highest first.
  const head = (name: string) => ladder.getByRole('columnheader', { name, exact: true });
  await head('side').getByRole('button').focus();
  await page.keyboard.press('Enter');
  await expect(head('side')).toHaveAttribute('aria-sort', 'ascending');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+Enter');
  await page.keyboard.press('Shift+Enter');
  await expect(head('bid')).toHaveAttribute('aria-sort', 'descending');
  const sides = await cells(ladder, 'side').allTextContents();
  expect(sides.map((s) => s.trim())).toEqual([...sides].map((s) => s.trim()).sort());
  const bids = (await cells(ladder, 'bid').allTextContents()).map(numberOf);
  bids.forEach((bid, i) => {
    if (i > 0 && sides[i] === sides[i - 1]) expect(bid).toBeLessThanOrEqual(bids[i - 1]);
  });

  // A width is stepped by keys, kept, and typed.
  const handle = head('bid').getByRole('slider');
  const before = Number(await handle.getAttribute('aria-valuenow'));
  await page.keyboard.press('Tab');
  await expect(handle).toBeFocused();
  await page.keyboard.press('ArrowRight');
  const wider = Number(await handle.getAttribute('aria-valuenow'));
  expect(wider).toBeGreaterThan(before);
  await page.reload();
  await expect(handle).toHaveAttribute('aria-valuenow', String(wider));
  await page.getByRole('button', { name: /^Columns of VM50/ }).click();
  await page.getByLabel('Width of bid, pixels').fill('120');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Escape');
  await expect(handle).toHaveAttribute('aria-valuenow', '120');
});

test('ten thousand rows: all are there, few are drawn, and all leave as a file', async ({ page }) => {
  const legs = [{ expiry: '2031-04-18', side: 'call' as const, strike: 80, ratio: 1 }];
  const trades = Array.from({ length: 10_000 }, (_, i) => ({
    instant: `2031-03-14T13:00:${String(i % 60).padStart(2, '0')}+01:00`,
    kind: 'outright' as const,
    legs,
    ...{ price: 1 + i / 7, size: (i * 7919) % 1000, bid: 1, ask: 2 },
  }));
  const answer: TradesResponse = { symbol: 'RYE', asOf: '2031-03-14T14:00:00+01:00', trades };
  await page.route('**/api/v1/underlyings/RYE/trades?*', (route) => route.fulfill({ json: answer }));
  await openPage(page, '/chain/RYE?table=trades');
  await page.getByRole('button', { name: 'all', exact: true }).last().click();
  const prints = page.getByTestId('trades');
  await expect(prints).toHaveAttribute('aria-rowcount', '10001');
  const drawn = prints.locator('tbody [data-key]');
  expect(await drawn.count()).toBeLessThan(100);
  await drawn.first().locator('td').first().click();
  await page.keyboard.press('Control+End');
  const last = prints.locator('tr[aria-rowindex="10001"]');
  await expect(last.locator('td:last-child')).toBeFocused();
  await expect(last.locator('[data-column=price]')).toHaveText(/1\s429\.43/);
  expect(await drawn.count()).toBeLessThan(100);
  // On a narrow page, which scrolls as a whole, the table scrolls by itself.
  await page.setViewportSize({ width: 800, height: 800 });
  await expect.poll(() => drawn.count()).toBeLessThan(100);
  await drawn.first().locator('td').first().click();
  await page.keyboard.press('Control+Home');
  await expect(prints.locator('tr[aria-rowindex="2"] td').first()).toBeFocused();
  await page.keyboard.press('Control+End');
  await expect(last.locator('td:last-child')).toBeFocused();
  await page.setViewportSize({ width: 1280, height: 800 });
  // By size, and of one size by price: the last of the first thousand that has it comes first.
  await prints.getByRole('button', { name: 'size' }).click();
  await prints.getByRole('button', { name: 'price' }).click({ modifiers: ['Shift'] });
  await page.keyboard.press('Control+Home');
  const sorted = [...trades].sort((a, b) => a.size - b.size || a.price - b.price);
  await drawn.first().locator('td').first().click();
  await page.keyboard.press('Control+Home');
  await expect(prints.locator('tr[aria-rowindex="2"] [data-column=price]')).toHaveText(sorted[0].price.toFixed(2));
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'RYE trades as CSV' }).click();
  const lines = readFileSync(await (await download).path(), 'utf8')
    .trim()
    .split('\n');
  expect(lines).toHaveLength(10_001);
  expect(lines[0]).toBe('symbol,currency,instant,traded,price,size,bid,ask,met,distance');
  // Every digit leaves, not those that are shown.
  expect(lines[8]).toContain(String(trades[7].price));
  expect(lines[4]).toContain(String(trades[3].price));
});

test('Term leaves as a file with every measure of the API, to the last digit', async ({ page, request }) => {
  await openPage(page, '/term/RYE');
  const measured = (await (await request.get('/api/v1/underlyings/RYE/measures')).json()) as MeasuredResponse;
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'RYE term as CSV' }).click();
  const [header, ...rows] = readFileSync(await (await download).path(), 'utf8')
    .trim()
    .split('\n')
    .map((line) => line.trim().split(','));
  expect(header.slice(0, 5)).toEqual(['symbol', 'currency', 'asOf', 'expiry', 'days']);
  expect(rows).toHaveLength(measured.expiries.length);
  let compared = 0;
  for (const [i, { expiry, values }] of measured.expiries.entries()) {
    expect(rows[i].slice(0, 4)).toEqual(['RYE', 'XTS', measured.asOf, expiry]);
    expect(header.slice(5)).toEqual(Object.keys(values));
    for (const [id, value] of Object.entries(values)) {
      const text = rows[i][header.indexOf(id)];
      expect(text === '' ? null : Number(text), `${expiry} ${id}`).toBe(value);
      if (value !== null) compared++;
    }
  }
  expect(compared).toBeGreaterThan(10 * rows.length);
});
