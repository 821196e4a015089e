import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

/* Nothing stands in for a value that is still to come: no other number, and nothing that would be made of it. */

const TRIANGLES = /[▲△▼▽]/;

test('until American theory comes Chain has empty cells, no triangle, no sentence of it and no file', async ({
  page,
}) => {
  let release = (): void => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route(/theory\.worker/, async (route) => {
    await held;
    await route.continue();
  });
  await openPage(page, '/chain/ORVEN?expiry=2031-09-19&sides=list');
  await expect(page.locator('[aria-busy=true]').first()).toBeVisible();
  const text = async () =>
    (await page.locator('main tbody, main [data-testid=reading], main aside').allInnerTexts()).join(' ');
  expect(await text()).not.toMatch(TRIANGLES);
  expect(await text()).not.toMatch(/\b(dear|cheap)\b/);
  await expect(page.getByRole('button', { name: /as CSV$/ }).first()).toBeDisabled();
  release();
  await expect(page.getByRole('button', { name: /as CSV$/ }).first()).toBeEnabled();
  await expect(page.locator('main [aria-busy=true]')).toHaveCount(0);
  expect(await text()).toMatch(/\b(dear|cheap|inside)\b/);
});

test('a page of Structure that no script has touched says nothing of American theory, and the first that is said stays', async ({
  page,
  request,
}) => {
  const address = '/structure/ORVEN?legs=1~2031-09-19~200~put';
  const sent = await (await request.get(address)).text();
  expect(sent).toContain('Theory is being worked out.');
  expect(sent).not.toMatch(/(better|worse) than by theory/);
  const told = (await (
    await request.post('/api/v1/structures/evaluate', {
      data: {
        symbol: 'ORVEN',
        legs: [{ kind: 'option', expiry: '2031-09-19', strike: 200, side: 'put', quantity: 1 }],
      },
    })
  ).json()) as { value: number };
  const seen: string[] = [];
  await page.exposeFunction('note', (text: string) => seen.push(text));
  await page.addInitScript(() => {
    new MutationObserver(() => {
      const text = document.querySelector('[data-figure="structure~value"]')?.textContent?.trim();
      if (text) (window as unknown as { note: (text: string) => void }).note(text);
    }).observe(document, { childList: true, subtree: true, characterData: true });
  });
  await openPage(page, address);
  await expect(page.locator('[data-figure="structure~value"]')).not.toHaveText('—');
  await expect(page.getByTestId('structure-map').locator('path').first()).toBeVisible();
  const values = [...new Set(seen)]
    .filter((text) => /\d/.test(text))
    .map((text) => Number(text.replace(/[\s\u202f]/g, '')));
  expect(values).toHaveLength(1);
  expect(Math.abs(values[0] - told.value)).toBeLessThanOrEqual(1);
});
