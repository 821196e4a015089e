import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
import { allShapes } from '../market/test/chain-file/shapes.ts';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

interface Expected {
  slices: {
    expiry: string;
    forward: number;
    quotes: { strike: number; volatility: number | null; call: number; put: number }[];
  }[];
  faults: { expiry: string; side: string; strike: number; kind: string }[];
}
const path = (name: string) => fileURLToPath(new URL(`files/${name}`, import.meta.url));
const number = (text: string | null) => Number((text ?? '').replace(/[\s\u202f%+]/g, '').replace('−', '-'));
const figure = (page: Page, id: string) => page.locator(`[data-figure="${id}"]`).first();

test.describe.configure({ mode: 'serial' });

for (const name of ['plain', 'localised']) {
  test(`import heston-${name}.csv and read the volatilities that stand behind it`, async ({ page }) => {
    const expected = JSON.parse(readFileSync(path(`heston-${name}.expected.json`), 'utf8')) as Expected;
    await openPage(page, '/data');
    await page.getByLabel(/Drop files or folders/).setInputFiles(path(`heston-${name}.csv`));
    await expect(page.getByTestId('import-counts')).toBeVisible();
    await page.getByRole('button', { name: 'Import', exact: true }).click();
    await expect(page.getByRole('status').filter({ hasText: 'Imported' })).toContainText('into 8 slices');
    await page.getByRole('link', { name: 'term', exact: true }).click();

    // Term: forward within 2 basis points, at-the-money volatility within 0.15 points.
    await expect(page.getByRole('heading', { name: 'FJRD' })).toBeVisible();
    for (const slice of expected.slices) {
      const forward = number(await figure(page, `forward~${slice.expiry}`).textContent());
      // The screen rounds to a cent.
      expect(Math.abs(forward - slice.forward), slice.expiry).toBeLessThan(2e-4 * slice.forward + 0.005);
      const nearest = slice.quotes.reduce((a, b) =>
        Math.abs(b.strike - slice.forward) < Math.abs(a.strike - slice.forward) ? b : a,
      );
      const atm = number(await figure(page, `atm~${slice.expiry}`).textContent());
      // The screen rounds to a tenth of a point.
      expect(Math.abs(atm - 100 * (nearest.volatility ?? NaN)), slice.expiry).toBeLessThan(0.15 + 0.05);
    }

    // Skew: the chart is drawn; faulty quotes are counted apart from those not fitted.
    await page.keyboard.press('4');
    await expect(page.locator('[data-ready=true]')).toBeVisible();
    await expect(page.getByRole('region', { name: 'Reading' })).toContainText('3 quotes are faulty (1');
    await expect(page.getByRole('region', { name: 'Reading' })).toContainText(/\d+ more are not fitted/);

    // Chain: exactly the three faulty quotes, each with the right reason, and 10-delta wings inside half the width.
    await page.keyboard.press('5');
    await page.getByRole('button', { name: 'in one list' }).click();
    // All rows are in sight: what is not is not drawn.
    await page.setViewportSize({ width: 1280, height: 6000 });
    const faults: string[] = [];
    for (const [n, slice] of expected.slices.entries()) {
      const query = `expiry=${slice.expiry}&sides=list&asOf=2031-03-14T17:30:00%2B01:00`;
      if (n === 0) await openPage(page, `/chain/FJRD?${query}`);
      else await page.keyboard.press('.');
      await expect(page.locator('[data-figure^="forward~"]').first()).toHaveAttribute(
        'data-figure',
        `forward~${slice.expiry}`,
      );
      const rows = await page
        .getByTestId('ladder')
        .locator('tbody tr')
        .evaluateAll((list) =>
          list.map((tr) => {
            const cells = [...tr.querySelectorAll('td')].map((td) => td.textContent?.trim() ?? '');
            return {
              strike: cells[0],
              side: cells[1],
              bid: cells[2],
              offer: cells[3],
              theory: cells[4],
              verdict: cells[5],
              fit: cells[7],
              delta: cells[8],
            };
          }),
        );
      for (const row of rows) {
        const strike = number(row.strike);
        const kind = { crossed: 'crossed', stale: 'stale', 'no offer': 'no-ask' }[row.verdict];
        if (kind) faults.push(`${slice.expiry} ${row.side} ${strike} ${kind}`);
        const truth = slice.quotes.find((q) => q.strike === strike);
        const isOut = row.side === 'call' ? strike >= slice.forward : strike < slice.forward;
        const delta = Math.abs(number(row.delta));
        if (row.verdict !== 'inside' || !isOut || !truth || delta < 0.1) continue;
        const half = 0.5 * (number(row.offer) - number(row.bid));
        expect(
          Math.abs(number(row.theory) - truth[row.side as 'call' | 'put']),
          `${slice.expiry} ${strike}`,
        ).toBeLessThan(half + 0.005);
      }
    }
    expect(faults.sort()).toEqual(expected.faults.map((f) => `${f.expiry} ${f.side} ${f.strike} ${f.kind}`).sort());
  });
}

test('the same file again changes nothing and says so', async ({ page }) => {
  await openPage(page, '/data');
  await page.getByLabel(/Drop files or folders/).setInputFiles(path('heston-localised.csv'));
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'nothing was changed' })).toBeVisible();
});

test('a wrong file is refused with line, field and remedy, and its rows can be downloaded', async ({ page }) => {
  await openPage(page, '/data');
  const good = readFileSync(path('heston-plain.csv'), 'utf8').split('\n').slice(0, 4).join('\n');
  const text = `${good.replaceAll('FJRD', 'WRONG')}\nWRONG,2031-03-14T17:30:00+01:00,141.43,2031-03-21,call,-5,1,2,1,0,0\n`;
  await page
    .getByLabel(/Drop files or folders/)
    .setInputFiles({ name: 'wrong.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await expect(page.getByTestId('preview')).toContainText('line 5, strike: not-positive');
  // Left out by default; the file can be refused for it instead.
  await page.getByLabel(/leave them out/).uncheck();
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('1 row is wrong, the first in line 5');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: /Download all 1/ }).click();
  expect(readFileSync(await (await download).path(), 'utf8')).toContain(
    '"5","strike","-5","not-positive","must be above 0"',
  );
  const { underlyings } = (await (await page.request.get('/api/v1/underlyings')).json()) as {
    underlyings: { symbol: string }[];
  };
  expect(underlyings.map((u) => u.symbol)).not.toContain('WRONG');
});

test('export a chain and import the file again: nothing changes', async ({ page }) => {
  await openPage(page, '/data');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export chains of TERN as csv' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toMatch(/^TERN-2031-03-14T1300\.csv$/);
  await page.getByLabel(/Drop files or folders/).setInputFiles({
    name: file.suggestedFilename(),
    mimeType: 'text/csv',
    buffer: readFileSync(await file.path()),
  });
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: /Imported|nothing was changed/ })).toContainText('13 slices');
});

test('ten files of other programs come in by drop and Enter, and one is taken back', async ({ page, request }) => {
  // Each is read by a process of its own, one after the other.
  const shapes = await allShapes();
  await openPage(page, '/data');
  const asUploads = (files: (typeof shapes)[number]['files']) =>
    files.map((f) => ({ name: f.name, mimeType: '', buffer: Buffer.from(f.bytes) }));
  const wayIn = page.getByLabel(/Drop files or folders/);
  // A workbook and two files that belong together, each by itself.
  const alone = shapes.filter((s) => s.files.length > 1 || s.files[0].name.endsWith('.xlsx'));
  for (const { name, files, market } of alone) {
    await wayIn.setInputFiles(asUploads(files));
    // The button has the focus once all is recognised.
    await expect(page.getByRole('button', { name: 'Import', exact: true }), name).toBeFocused();
    await expect(page.getByTestId('import-counts')).toContainText(
      `136 quotes of ${market.symbol} at 14 Mar 2031 14:00, 4 expiries`,
    );
    await page.keyboard.press('Enter');
    await expect(page.getByRole('status').filter({ hasText: /136 rows/ }), name).toContainText('4 slices');
  }
  // All others at once.
  const others = shapes.filter((s) => !alone.includes(s));
  await wayIn.setInputFiles(others.flatMap((s) => asUploads(s.files)));
  await expect(page.getByRole('button', { name: `Import all ${others.length}` })).toBeFocused();
  await page.keyboard.press('Enter');
  const queue = page.getByTestId('import-queue').getByRole('listitem');
  await expect(queue.filter({ hasText: 'stored' })).toHaveCount(others.length);
  for (const { name, market } of shapes) {
    const path = `/api/v1/underlyings/${encodeURIComponent(market.symbol)}`;
    expect(await (await request.get(path)).json(), name).toMatchObject({
      kind: market.kind,
      exercise: market.exercise,
    });
  }
  // Views say what is missing, without pretending.
  await openPage(page, '/skew/NORD5');
  await expect(page.getByTestId('missing-history')).toContainText('daily bars');
  await page
    .getByTestId('missing-history')
    .getByLabel(/Bring such a file/)
    .setInputFiles({
      name: 'daily.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(
        [
          'Date,Open,High,Low,Close',
          ...Array.from({ length: 28 }, (_, i) => `${i + 1} Feb 2031,4800,4900,4700,${4800 + (i % 3) * 20}`),
        ].join('\n'),
      ),
    });
  await expect(page.getByTestId('missing-history')).toContainText('28 rows of bars stored');
  await expect(page.getByTestId('missing-history')).not.toContainText('no realized volatility');

  await openPage(page, '/data');
  await page.getByRole('button', { name: 'Take back BARLI.xlsx' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Nothing is left of BARLI' })).toContainText(
    '4 rows are as before',
  );
  expect((await request.get('/api/v1/underlyings/BARLI')).status()).toBe(404);

  // Terms can be changed later, and what depends on them is derived anew.
  await page.getByRole('button', { name: 'Terms and instants of HEMLA' }).click();
  await page.getByRole('group', { name: 'Terms of HEMLA' }).getByLabel('exercise').selectOption('european');
  await expect(page.getByTestId('own').getByRole('row', { name: /HEMLA/ })).toContainText(
    'european options on a share',
  );
  await page.getByRole('button', { name: 'Delete HEMLA…' }).click();
  await page.getByRole('button', { name: 'Delete all of HEMLA' }).click();
  await expect(page.getByTestId('own').getByRole('row', { name: /HEMLA/ })).toHaveCount(0);
});
