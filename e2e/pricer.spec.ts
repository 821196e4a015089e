import { fileURLToPath } from 'node:url';
import type { Locator, Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

/** Number on the screen: thin spaces, a real minus sign, a unit behind it. */
function numberOf(text: string | null): number {
  return Number.parseFloat(
    (text ?? '')
      .replace(/[\s\u202f]/g, '')
      .replace('−', '-')
      .replace('+', ''),
  );
}
const input = (page: Page, label: string) =>
  page.getByRole('region', { name: 'Inputs' }).getByLabel(label, { exact: true });
async function type(page: Page, label: string, value: string): Promise<void> {
  await input(page, label).fill(value);
  await input(page, label).press('Enter');
}
const figure = (page: Page, measure: string, side: string) =>
  page.getByTestId('greeks').locator(`[data-figure="pricer~${measure}~${side}"]`);
/** Values of the rows of a table that add up, and of the row that holds their sum. */
const partsOf = (table: Locator, column: string) =>
  table.locator(
    `tbody tr:not([data-key=from], [data-key=to], [data-key=change], [data-key=theory], [data-key=market]) [data-column=${column}]`,
  );
const sumOf = (table: Locator, row: string, column: string) =>
  table.locator(`[data-key=${row}] [data-column=${column}]`);
const solve = (page: Page, id: string) => page.getByTestId('solve').locator(`[data-key="${id}"]`);

test('pin a state, change inputs: the parts add up to the whole change, and undo brings the old state back', async ({
  page,
}) => {
  await openPage(page, '/pricer/VM50?expiry=2031-04-18&strike=4900&side=call');
  await expect(figure(page, 'price', 'call')).not.toHaveText('—');
  const before = numberOf(await figure(page, 'price', 'call').textContent());
  await page.getByRole('button', { name: 'pin', exact: true }).click();
  await type(page, 'underlying', '4 880');
  await type(page, 'volatility', '18.5');
  await type(page, 'expiry in', '28');
  await type(page, 'rate', '3.5 %');
  await type(page, 'yield', '1,5');
  const change = page.getByTestId('change');
  await expect(partsOf(change, 'value')).toHaveCount(7);
  const parts = await partsOf(change, 'value').allTextContents();
  const total = numberOf(await sumOf(change, 'change', 'value').textContent());
  // Every figure is rounded to a hundredth, a digit beyond the step of these quotes.
  expect(Math.abs(parts.reduce((sum, text) => sum + numberOf(text), 0) - total)).toBeLessThanOrEqual(0.005 * 9);
  // Each part has its Workings, with the Greek of the pin and both states.
  await sumOf(change, 'vega', 'value').click();
  const drawer = page.getByRole('complementary', { name: 'Workings' });
  await expect(drawer).toContainText('m Λ (σ′ − σ)');
  const told = numberOf(await drawer.getByTestId('workings-value').textContent());
  expect(told).toBeCloseTo(numberOf(await sumOf(change, 'vega', 'value').textContent()), 2);
  await page.keyboard.press('Escape');
  const after = numberOf(await figure(page, 'price', 'call').textContent());
  expect(Math.abs(after - before - total)).toBeLessThanOrEqual(0.011);
  expect(Math.abs(total)).toBeGreaterThan(10);
  // The address carries it all.
  await expect(page).toHaveURL(/dividendYield=0\.015/);
  const whole = (await sumOf(change, 'change', 'value').textContent()) ?? '';
  await openPage(page, page.url());
  await expect(sumOf(change, 'change', 'value')).toHaveText(whole);
  await type(page, 'volatility', '30');
  await expect(figure(page, 'price', 'call')).not.toHaveText(String(after));
  await page.getByRole('button', { name: 'undo' }).click();
  await expect.poll(async () => numberOf(await figure(page, 'price', 'call').textContent())).toBe(after);
});

test('Greeks are pinned beside the new ones, and the change of each is split by cause', async ({ page }) => {
  await openPage(page, '/pricer/KELPA?expiry=2031-04-18&strike=95&side=put');
  await expect(figure(page, 'delta', 'put')).not.toHaveText('—');
  const before = numberOf(await figure(page, 'delta', 'put').textContent());
  await page.getByRole('button', { name: 'pin', exact: true }).click();
  await type(page, 'underlying', '93.5');
  await type(page, 'volatility', '22');
  const table = page.getByTestId('greeks');
  const delta = table.locator('[data-key=delta]');
  await expect(delta.locator('[data-column=pinned]')).not.toHaveText('—');
  expect(numberOf(await delta.locator('[data-column=pinned]').textContent())).toBeCloseTo(before, 3);
  await page.getByLabel('Whose change is split').selectOption('delta');
  await expect(page).toHaveURL(/changeOf=delta/);
  const change = page.getByTestId('change');
  // The underlying, the volatility, and what they make together.
  await expect(partsOf(change, 'value')).toHaveCount(3);
  const readParts = async () => (await partsOf(change, 'value').allTextContents()).map(numberOf);
  // What was typed last may still be on its way through the worker.
  await expect(async () => {
    const after = numberOf(await figure(page, 'delta', 'put').textContent());
    const whole = numberOf(await delta.locator('[data-column=change]').textContent());
    expect(Math.abs(after - before - whole)).toBeLessThanOrEqual(0.0011);
    const sum = (await readParts()).reduce((total, part) => total + part, 0);
    expect(Math.abs(sum - whole)).toBeLessThanOrEqual(0.0005 * 4);
  }).toPass();
  const parts = await readParts();
  expect(parts[0]).toBeLessThan(-0.05);
  await sumOf(change, 'underlying', 'value').click();
  const drawer = page.getByRole('complementary', { name: 'Workings' });
  await expect(drawer).toContainText('m (C − G)');
  expect(numberOf(await drawer.getByTestId('workings-value').textContent())).toBeCloseTo(parts[0], 3);
});

test('dividends are typed or pasted as a table and held against the textbook; what is doubtful is asked about', async ({
  page,
}) => {
  // Hull, J. C., Options, Futures, and Other Derivatives (9th ed. 2015, example 15.9), from memory: printed 3.67.
  await openPage(
    page,
    '/pricer?exercise=european&side=call&underlying=40&strike=40&days=182.5&volatility=0.3&rate=0.09',
  );
  await expect(page.getByTestId('escrowed')).toHaveCount(0);
  const first = input(page, 'another dividend, days or date');
  await first.focus();
  await page.evaluate(() => {
    const clipboard = new DataTransfer();
    clipboard.setData('text/plain', '60.83\t0.5\n152.08\t0.5\n');
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: clipboard, bubbles: true, cancelable: true }),
    );
  });
  await expect(page.getByTestId('dividend')).toHaveCount(2);
  await expect(page.getByTestId('escrowed')).toContainText(/call 3\.67/);
  // The underlying itself is volatile here: worth more at the same number.
  await expect.poll(async () => numberOf(await figure(page, 'price', 'call').textContent())).toBeGreaterThan(3.7);
  await page.getByRole('button', { name: 'Take dividend 1 away' }).click();
  await expect(page.getByTestId('dividend')).toHaveCount(1);

  // Turned round it would be 60.8 in half a day.
  await first.focus();
  await page.evaluate(() => {
    const clipboard = new DataTransfer();
    clipboard.setData('text/plain', '0.5@60.8');
    document.activeElement?.dispatchEvent(
      new ClipboardEvent('paste', { clipboardData: clipboard, bubbles: true, cancelable: true }),
    );
  });
  await expect(page.getByRole('alert')).toContainText('“0.5@60.8”: days or date, then the amount');
  await expect(page.getByTestId('dividend')).toHaveCount(1);
  await type(page, 'strike', '1,234');
  await expect(page.getByRole('alert').filter({ hasText: 'strike' })).toContainText('meant as 1 234 or as 1.234');
  await type(page, 'strike', '1234');
  await expect(input(page, 'strike')).toHaveValue(/^1\u202f234$/);
  await type(page, 'strike', '40');
  await type(page, 'expiry in', '0.5y');
  await expect(input(page, 'expiry in')).toHaveValue('183');
  await expect(page).toHaveURL(/days=182\.5/);
  await type(page, 'expiry in', '6m');
  await expect(input(page, 'expiry in')).toHaveValue(/^18[1-4](\.\d+)?$/);

  // An impossible price says which bound it breaks.
  await solve(page, 'volatility').getByRole('textbox').fill('41');
  await solve(page, 'volatility').getByRole('textbox').press('Enter');
  await expect(solve(page, 'volatility')).toContainText(/none: above what it is worth at any volatility, 39\.5\d+/);
});

test('solve for an input and take it: the value, the delta and the day come out as asked', async ({ page }) => {
  await openPage(page, '/pricer?exercise=american&side=put&underlying=98&strike=100&days=90&volatility=0.25');
  const price = figure(page, 'price', 'put');
  await solve(page, 'volatility').getByRole('textbox').fill('6.5');
  await solve(page, 'volatility').getByRole('textbox').press('Enter');
  await expect(solve(page, 'volatility')).toContainText('%');
  await page.getByRole('button', { name: 'Take volatility for a value of' }).click();
  await expect(price).toHaveText('6.5000');

  await solve(page, 'underlying').getByRole('textbox').fill('4');
  await solve(page, 'underlying').getByRole('textbox').press('Enter');
  await expect
    .poll(async () => numberOf(await solve(page, 'underlying').locator('td').nth(2).textContent()))
    .toBeGreaterThan(100);
  await page.getByRole('button', { name: 'Take underlying for a value of' }).click();
  await expect(price).toHaveText('4.0000');

  await solve(page, 'strike').getByRole('textbox').fill('-0.3');
  await solve(page, 'strike').getByRole('textbox').press('Enter');
  await page.getByRole('button', { name: 'Take strike for a delta of' }).click();
  await expect(figure(page, 'delta', 'put')).toHaveText('−0.300');

  const now = numberOf(await price.textContent());
  await solve(page, 'days')
    .getByRole('textbox')
    .fill(String(now / 2));
  await solve(page, 'days').getByRole('textbox').press('Enter');
  await page.getByRole('button', { name: 'Take days until a value of' }).click();
  await expect.poll(async () => numberOf(await price.textContent())).toBeCloseTo(now / 2, 3);

  // A target out of reach is said, not made up.
  await solve(page, 'underlying').getByRole('textbox').fill('500');
  await solve(page, 'underlying').getByRole('textbox').press('Enter');
  await expect(solve(page, 'underlying')).toContainText('none');
});

test('theory against market on an imported chain: the steps lead from theory to the mid', async ({ page }) => {
  await openPage(page, '/data');
  await page
    .getByLabel(/Drop files or folders/)
    .setInputFiles(fileURLToPath(new URL('files/heston-plain.csv', import.meta.url)));
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  // Another test may have imported the file before; then nothing changes.
  await expect(page.getByRole('status').filter({ hasText: /Imported|nothing/i })).toBeVisible();
  await openPage(page, '/chain/FJRD?sides=list');
  const row = page.getByTestId('ladder').locator('tbody tr', { hasText: 'inside' }).first();
  const mid =
    0.5 *
    (numberOf(await row.locator('td').nth(2).textContent()) + numberOf(await row.locator('td').nth(3).textContent()));
  // From the quote's theoretical value to the Pricer, by its Workings.
  await row.locator('[data-figure^="theory~"]').click();
  await page.getByRole('link', { name: 'Open in Pricer' }).click();
  await expect(page).toHaveURL(/\/pricer\/.*strike=/);
  await page.getByRole('button', { name: 'theory against market', exact: true }).click();
  const gap = page.getByTestId('gap');
  await expect(gap).toContainText('market');
  const values = gap.locator('tbody tr td:last-child');
  const theory = numberOf(await values.first().textContent());
  const market = numberOf(await values.last().textContent());
  expect(market).toBeCloseTo(mid, 2);
  const parts = (await partsOf(gap, 'part').allTextContents()).map(numberOf);
  expect(parts).toHaveLength(5);
  expect(Math.abs(theory + parts.reduce((a, b) => a + b, 0) - market)).toBeLessThanOrEqual(0.0005 * 7);
  expect(numberOf(await sumOf(gap, 'market', 'part').textContent())).toBeCloseTo(market - theory, 2);
});

test('the decay of two expiries and a curve of any Greek are drawn; bad input says how to mend it', async ({
  page,
}) => {
  await openPage(page, '/pricer/VM50?panel=decay');
  await expect(page.locator('[data-ready=true]')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Reading' })).toContainText(/In 7\sdays this expiry changes by −\d/);
  await page.getByRole('button', { name: 'curve', exact: true }).click();
  await page.getByLabel('Measure').selectOption('gamma');
  await page.getByLabel('Input on the axis').selectOption('days');
  await expect(page.getByRole('figure', { name: /gamma against days/ })).toBeVisible();
  await type(page, 'volatility', 'abc');
  await expect(page.getByRole('alert')).toContainText('volatility: a number is needed');
  await expect(input(page, 'volatility')).toHaveValue('abc');
  await type(page, 'expiry in', '2031-06-20');
  await expect(input(page, 'expiry in')).toHaveValue(/^98\.\d+$/);
  await type(page, 'another dividend, days or date', '30');
  await type(page, 'another dividend, amount', '12');
  await expect(page.getByTestId('dividend')).toHaveCount(1);
  await page.getByRole('button', { name: 'american', exact: true }).click();
  await expect(page.getByText('finite difference')).toBeVisible();
});

test('position, contract and share are one switch; the key leads to the Pricer with the option that is explained', async ({
  page,
}) => {
  await openPage(page, '/chain/VM50?expiry=2031-04-18&workings=theory~2031-04-18~4500~put');
  await expect(page.getByRole('link', { name: 'Open in Pricer' })).toBeVisible();
  const theory = numberOf(await page.getByTestId('workings-value').textContent());
  await page.keyboard.press('p');
  await expect(page).toHaveURL(/\/pricer\/VM50\?.*strike=4500&side=put/);
  const price = figure(page, 'price', 'put');
  await expect.poll(async () => numberOf(await price.textContent())).toBeCloseTo(theory, 1);
  await type(page, 'contracts', '-3');
  const share = numberOf(await price.textContent());
  await page.getByRole('button', { name: 'position' }).click();
  await expect.poll(async () => numberOf(await price.textContent())).toBeCloseTo(-30 * share, 0);
  await price.click();
  const drawer = page.getByRole('complementary', { name: 'Workings' });
  await expect(drawer).toContainText('your own');
  await expect(drawer).toContainText('Merton');
});
