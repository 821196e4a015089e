import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';
import { shown } from './structure-figures.ts';

/* A position goes on, whatever is listed and whatever is typed. */

test('a straddle kept before a report lives on: by the smile after the jump, settled once it has ended', async ({
  page,
  request,
}) => {
  const legs = '1~2031-03-07~34.5~call,1~2031-03-07~34.5~put';
  const at = async (asOf: string) => {
    await openPage(page, `/structure/TYNDA?asOf=${encodeURIComponent(asOf)}&legs=${legs}`);
    await expect(page.getByTestId('structure-name')).toHaveText('straddle');
  };
  await at('2031-02-27T17:30:00+01:00');
  await expect(page.locator('[data-leg="2031-03-07 34.5 put"] [data-valued-by]')).toHaveCount(0);
  await page.getByRole('button', { name: 'Shelf' }).click();
  await page.getByLabel('Name of what is kept').fill('over the report');
  await page.getByRole('button', { name: 'keep', exact: true }).click();
  await expect(page.getByTestId('shelf')).toContainText('over the report');

  await at('2031-02-28T11:15:00+01:00');
  await expect(page.locator('[data-leg="2031-03-07 34.5 put"] [data-valued-by=smile]')).toHaveText('by the smile');
  await expect.poll(() => shown(page, 'value')).toBeGreaterThan(600);
  await expect(page.getByTestId('profile')).toBeVisible();

  await at('2031-03-14T14:00:00+01:00');
  const asked = await request.get('/api/v1/underlyings/TYNDA/settlements?ended=2031-03-07');
  const { settlements } = (await asked.json()) as { settlements: { price: number }[] };
  const close = settlements[0].price;
  await expect(page.locator('[data-leg="2031-03-07 34.5 call"] [data-valued-by=settlement]')).toHaveText(
    `settled at ${close.toFixed(2)}`,
  );
  const { price } = (await (await request.get('/api/v1/underlyings/TYNDA/surface')).json()) as { price: number };
  // Delivered at 34.50, the put is a short share.
  await expect.poll(() => shown(page, 'value')).toBeCloseTo(100 * (34.5 - price), 1);
  await expect.poll(() => shown(page, 'delta')).toBe(-100);
  await page.getByRole('button', { name: 'Shelf' }).click();
  await expect(page.getByTestId('shelf')).toContainText('straddle (settled)');
});

test('a number out of its range changes nothing and says the range at its field; a link says what it left out', async ({
  page,
}) => {
  const legs = '1~2031-04-18~4600~put,-2~2031-04-18~4700~put';
  await openPage(page, `/structure/VM50?legs=${legs},1~never~4800~put&shift=500`);
  const notes = page.getByTestId('context-notes');
  await expect(notes).toContainText('A leg is left out: “1~never~4800~put”');
  await expect(notes).toContainText('“shift=500” is left out: at most 100.');
  await notes.getByRole('button', { name: 'forget it' }).first().click();
  await expect(page).not.toHaveURL(/shift=500/);
  const typed = async (label: string, text: string) => {
    const field = page.getByLabel(label);
    await field.fill(text);
    await field.press('Enter');
    return field;
  };
  const many = 'How many times the smallest structure';
  for (const [label, text, wrong] of [
    [many, '100000', 'from 1 to 499'],
    ['Contracts of the 4 600 put', '99999999999', 'from −999 to 999'],
    ['Contracts of the 4 600 put', '1.5', 'a whole number is needed'],
    ['Points on every volatility', '+5%', 'not in percent: write the number alone'],
  ]) {
    const field = await typed(label, text);
    await expect(page.getByRole('alert').filter({ hasText: wrong })).toBeVisible();
    await field.press('Escape');
    await expect(page.locator('[data-leg] [aria-label^="Contracts of"]')).toHaveCount(2);
  }
  for (let i = 0; i < 2; i++) {
    await typed(many, '10');
    await expect(page.getByLabel('Contracts of the 4 700 put')).toHaveValue('−20');
  }
});
