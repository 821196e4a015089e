import type { Page } from '@playwright/test';
import { pagesOf } from '../web/src/lib/shell/view-address.ts';
import { VIEWS } from '../web/src/lib/views/index.ts';
import { expectAccessible } from './accessibility.ts';
import { expect, test } from './application.ts';
import { drawn } from './drawn.ts';
import { openPage } from './open-page.ts';

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

/** What is looked at, by its name: all of it in the long run, eight drawn by the commit in the usual one. */
const LOOKS: Record<string, (page: Page) => Promise<void>> = {};

for (const { view, address } of pagesOf(VIEWS, 'VM50')) {
  LOOKS[`${view.label} has no accessibility violation`] = async (page) => {
    await openPage(page, address);
    await expect(page).toHaveTitle(new RegExp(` · ${view.label} · Umwelt$|^${view.label} · Umwelt$`));
    await expectAccessible(page);
  };
}

/** What opens over a view, and how it is opened. */
const OVER: [string, string, (page: Page) => Promise<void>][] = [
  ['Search', '/term/VM50', (page) => page.keyboard.press('/')],
  ['Keys', '/term/VM50', (page) => page.keyboard.press('?')],
  ['Go to a date', '/skew/VM50', (page) => page.keyboard.press('g')],
  ['Borrow a smile', '/skew/VFUND', (page) => page.getByRole('button', { name: 'borrow…' }).click()],
  ['Columns', '/chain/VM50', (page) => page.getByRole('button', { name: /^Columns of/ }).click()],
];
for (const [name, address, open] of OVER) {
  LOOKS[`${name} has no accessibility violation, and gives the keyboard back`] = async (page) => {
    await openPage(page, address);
    const dialog = page.getByRole('dialog', { name });
    await open(page);
    await expect(dialog).toBeVisible();
    // The keyboard is within, and keys of the page do nothing there.
    await expect(dialog.locator(':focus')).toHaveCount(1);
    await expectAccessible(page);
    await page.keyboard.press('Escape');
    await expect(dialog).toHaveCount(0);
  };
}

for (const panel of ['legs', 'chances', 'neutralize', 'reach', 'decay', 'compare', 'shelf']) {
  LOOKS[`a structure with legs and its panel ${panel} have no accessibility violation`] = async (page) => {
    const legs = 'legs=-1~2031-04-18~4700~put,1~2031-06-20~4700~put';
    await openPage(page, `/structure/VM50?${legs}&panel=${panel}&by=2031-05-16~4800~put`);
    await expect(page.locator('[data-testid=structure-map] [data-ready=true]')).toBeVisible();
    await expect(page.locator('main [aria-busy=true]')).toHaveCount(0);
    await expectAccessible(page);
  };
}

for (const [name, look] of drawn(Object.entries(LOOKS), process.env.SOAK ? undefined : 8))
  test(name, async ({ page }) => look(page));

test('Workings and what is assumed have no accessibility violation', async ({ page }) => {
  await openPage(page, '/chain/GUSTA');
  await page.locator('[data-figure^="theory~"]').first().click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toBeVisible();
  await expectAccessible(page);
  const assumed = page.getByRole('button', { name: /^assumes/ });
  await assumed.click();
  await expect(page.getByText('Volatility for theory')).toBeVisible();
  await expectAccessible(page);
  // Only what lies on top closes.
  await page.keyboard.press('Escape');
  await expect(page.getByText('Volatility for theory')).toHaveCount(0);
  await expect(assumed).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('complementary', { name: 'Workings' })).toHaveCount(0);
});

test('both sides of a chain with picked legs have no accessibility violation', async ({ page }) => {
  await openPage(page, '/chain/VM50?sides=both&legs=1~2031-04-18~4600~put');
  await expect(page.getByTestId('picked')).toBeVisible();
  await expectAccessible(page);
});
