import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

/* Other underlyings and other days beside the picture, and the ladder's own columns. */

interface Expiry {
  date: string;
  days: number;
  atm: number | null;
  riskReversal25: number | null;
  butterfly25: number | null;
  index: number | null;
  realized: { volatility: number; sessions: number } | null;
}
interface Picture {
  asOf: string;
  atm30: number | null;
  events: { kind: string }[];
  expiries: Expiry[];
  maturities: { days: number; atm: number }[];
  futuresCurve: { deliveries: string[]; prices: number[] } | null;
}

test('hold another underlying and a pinned day beside the skew, shapes aligned by deviations', async ({
  page,
  request,
}) => {
  await openPage(page, '/skew/VM50?skew=others');
  const others = page.getByTestId('skew-others');
  await expect(others.locator('figure')).toHaveCount(1);
  const field = page.getByLabel('Underlying to compare with');
  await field.fill('nobody');
  await field.press('Enter');
  await expect(page.getByRole('alert')).toContainText('No underlying is called NOBODY');
  await field.fill('TERN');
  await field.press('Enter');
  await expect(others.locator('figure')).toHaveCount(2);
  await page.getByRole('button', { name: 'pin this day' }).click();
  await expect(page).toHaveURL(/compare=TERN,VM50@2031/);
  await page.keyboard.press('Alt+ArrowLeft');
  await expect(page).toHaveURL(/asOf=/);
  await expect(others.locator('figure')).toHaveCount(3);

  // The pair's figures are those of its expiry nearest to the focus.
  const asOf = new URL(page.url()).searchParams.get('asOf') ?? '';
  const pictureOf = async (symbol: string) =>
    (await (
      await request.get(`/api/v1/underlyings/${symbol}/picture?asOf=${encodeURIComponent(asOf)}`)
    ).json()) as Picture;
  const tern = others.locator('figure', { hasText: 'TERN' });
  const expiry = (await pictureOf('TERN')).expiries.find((e) => e.date === '2031-04-18');
  if (!expiry?.atm || !expiry.riskReversal25) throw new Error('TERN has no smile of 18 April');
  await expect(tern.locator('figcaption')).toContainText(`18 Apr, ${Math.round(expiry.days)} days`);
  await expect(tern).toContainText(`at the money ${(expiry.atm * 100).toFixed(1)} %`);
  await expect(tern).toContainText(
    `risk reversal ${expiry.riskReversal25 < 0 ? '−' : '+'}${Math.abs(expiry.riskReversal25 * 100).toFixed(1)}`,
  );

  // One click takes it away again.
  await page.getByRole('button', { name: 'Take TERN away' }).click();
  await expect(others.locator('figure')).toHaveCount(2);
});

test('the level owns the scale of Term; what stands beside it can be held against its own 30 days', async ({
  page,
  request,
}) => {
  const pictureOf = async (symbol: string) =>
    (await (await request.get(`/api/v1/underlyings/${symbol}/picture`)).json()) as Picture;
  await openPage(page, '/term/VM50');
  const index = await pictureOf('VM50');
  const levels = index.expiries.flatMap((e) => (e.atm === null ? [] : [100 * e.atm]));
  const plot = page.locator('.js-plotly-plot').first();
  const drawn = () =>
    plot.evaluate((element) => {
      const { layout, data } = element as unknown as {
        layout: { yaxis: { range: [number, number] } };
        data: { mode: string; y: (number | null)[]; name?: string }[];
      };
      return { range: layout.yaxis.range, data };
    });
  const [low, high] = (await drawn()).range;
  // A realized line that starts at 4.6 % takes no more room than the level has itself.
  expect(high - low).toBeLessThan(3 * Math.max(2, Math.max(...levels) - Math.min(...levels)));
  expect(Math.min(...index.expiries.flatMap((e) => (e.realized ? [100 * e.realized.volatility] : [])))).toBeLessThan(
    low,
  );
  expect((await drawn()).data.filter((t) => t.mode === 'markers')).toHaveLength(1);
  const kinds = new Set(index.events.map((e) => e.kind)).size;
  await expect(plot).toContainText(`${index.events.length - kinds} more events`);

  await openPage(page, '/term/VM50?compare=TERN');
  await page.getByRole('button', { name: 'each less its own 30 days' }).click();
  await expect(page).toHaveURL(/scale=month/);
  const tern = await pictureOf('TERN');
  await expect(plot).toContainText('less its own at 30 days');
  const line = (await drawn()).data.find((t) => t.name === 'TERN');
  const points = tern.expiries.filter((e) => e.atm !== null).map((e) => 100 * ((e.atm ?? 0) - (tern.atm30 ?? 0)));
  points.forEach((value, i) => expect(line?.y[i]).toBeCloseTo(value, 9));
});

test('Term shows model-free and realized volatility by expiry, and a future its delivery months', async ({
  page,
  request,
}) => {
  await openPage(page, '/term/RYE?lines=wings,index,realized');
  const picture = (await (await request.get('/api/v1/underlyings/RYE/picture')).json()) as Picture;
  const rows = page.getByTestId('term').locator('tbody tr');
  await expect(rows).toHaveCount(picture.expiries.length);
  for (const [i, e] of picture.expiries.entries()) {
    const percent = (v: number | null | undefined) => (v == null ? '—' : (v * 100).toFixed(1));
    await expect(rows.nth(i).locator('[data-figure^="index~"]')).toHaveText(percent(e.index));
    await expect(rows.nth(i).locator('[data-figure^="realized~"]')).toHaveText(percent(e.realized?.volatility));
  }
  // At fixed days the level lies between those of the expiries around.
  const fixed = page.getByTestId('fixed-days').locator('tbody tr').first().locator('[data-figure]');
  await expect(fixed).toHaveText(picture.maturities.map((m) => (m.atm * 100).toFixed(1)));
  expect(picture.maturities.map((m) => m.days)).toContain(30);
  const { prices } = picture.futuresCurve ?? { prices: [] };
  expect(prices.length).toBeGreaterThan(3);
  const change = (prices[prices.length - 1] / prices[0] - 1) * 100;
  await expect(page.getByTestId('futures-curve')).toContainText(
    `first to last ${change < 0 ? '−' : '+'}${Math.abs(change).toFixed(1)} %`,
  );
  const chart = page.getByLabel('At-the-money volatility by expiry');
  for (const name of ['25-delta put', '25-delta call', 'model-free', 'realized as long']) {
    await expect(chart.getByText(name, { exact: true })).toBeVisible();
  }
  await page.getByRole('button', { name: '25 delta' }).click();
  await expect(chart.getByText('25-delta put', { exact: true })).toHaveCount(0);
});

test('choose columns of the ladder and their order; both are kept, and a strike opens Pricer', async ({ page }) => {
  await openPage(page, '/chain/VM50?expiry=2031-04-18');
  const heads = page.getByTestId('ladder').locator('thead th');
  const names = async () => (await heads.allTextContents()).map((t) => t.trim());
  const before = await names();
  expect(before).not.toContain('traded');
  await page.getByRole('button', { name: 'Columns of VM50 chain 2031-04-18' }).click();
  const dialog = page.getByRole('dialog', { name: 'Columns' });
  await dialog.getByLabel('traded', { exact: true }).check();
  await dialog.getByLabel('theta/day', { exact: true }).uncheck();
  await dialog.getByRole('button', { name: 'offer to the left' }).click();
  await dialog.getByRole('button', { name: 'close' }).click();
  const changed = [...before.filter((n) => n !== 'theta/day'), 'traded'];
  changed.splice(2, 2, 'offer', 'bid');
  expect(await names()).toEqual(changed);
  await page.reload();
  await expect(heads).toHaveText(changed);
  await page.getByRole('button', { name: 'Columns of VM50 chain 2031-04-18' }).click();
  await dialog.getByRole('button', { name: 'as they were at first' }).click();
  await dialog.getByRole('button', { name: 'close' }).click();
  expect(await names()).toEqual(before);
  const strike = page.getByTestId('ladder').locator('tbody tr td:first-child a').first();
  const text = (await strike.textContent()) ?? '';
  await strike.click();
  await expect(page).toHaveURL(new RegExp(`/pricer/VM50\\?.*strike=${text.replace(/\D/g, '')}`));
});
