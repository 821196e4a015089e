import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

/** Leaves the market as the demo has it: paused, at the speed it starts with. */
test.afterEach(async ({ request }) => {
  await request.post('/api/v1/feed', { data: { action: 'pause', speed: 60 } });
});

const banner = (page: Page) => page.getByRole('banner');
const shownInstant = async (page: Page) => (await banner(page).locator('time').getAttribute('datetime')) ?? '';
const price = (page: Page) => page.locator('[data-figure=price]').first();

test('step through quarter-hours, sessions and to a date by key: price and volatility follow, the address tells', async ({
  page,
}) => {
  await openPage(page, '/term/TYNDA?asOf=2031-02-28T11:20:00%2B01:00');
  await expect(banner(page)).toContainText('28 Feb 2031 11:15');
  const after = Number((await price(page).textContent())?.replace(/\s/g, ''));
  const volatility = async () => parseFloat((await page.locator('[data-figure=atm30]').first().textContent()) ?? '');
  const low = await volatility();
  // The trial's readout came at 11:00: the quarter of an hour before it knew nothing.
  await page.keyboard.press('[');
  await expect(banner(page)).toContainText('28 Feb 2031 11:00');
  await page.keyboard.press('[');
  await expect(banner(page)).toContainText('28 Feb 2031 10:45');
  await expect(page).toHaveURL(/asOf=2031-02-28T10:45/);
  const before = Number((await price(page).textContent())?.replace(/\s/g, ''));
  expect(after / before).toBeLessThan(0.85);
  expect((await volatility()) - low).toBeGreaterThan(15);
  await page.keyboard.press('{');
  await expect(banner(page)).toContainText('27 Feb 2031 17:30');
  await page.keyboard.press('}');
  await expect(banner(page)).toContainText('28 Feb 2031 17:30');
  await page.keyboard.press('g');
  await page.getByLabel('Date', { exact: true }).fill('12 aug 2030');
  await expect(page.getByText('Enter: the stored instant at or before 12 Aug 2030')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(banner(page)).toContainText('12 Aug 2030 17:30');
  await expect(page).toHaveURL(/asOf=2030-08-12T23:59/);
  // Where the year begins there is nothing before.
  await page.keyboard.press('g');
  await page.getByRole('button', { name: 'first' }).click();
  await expect(page.getByRole('button', { name: 'Instant before' })).toBeDisabled();
});

test('go live, let the market run and pause it; what is stored on the way can be stepped to', async ({
  page,
  request,
}) => {
  await request.post('/api/v1/feed', { data: { action: 'pause', speed: 600, storeMinutes: 15 } });
  await openPage(page, '/term/RYE');
  await page.keyboard.press('l');
  await expect(page).toHaveURL(/asOf=live/);
  await expect(page.getByTestId('live-age')).toHaveText('paused');
  const start = await shownInstant(page);
  await page.keyboard.press('s');
  await expect.poll(async () => Date.parse(await shownInstant(page)) - Date.parse(start)).toBe(600_000);
  await page.getByRole('button', { name: 'Start the market' }).click();
  await expect(page.getByTestId('live-age')).toHaveText(/s old/);
  const shown: string[] = [];
  await expect
    .poll(async () => {
      const instant = await shownInstant(page);
      if (shown.at(-1) !== instant) shown.push(instant);
      return shown.length;
    })
    .toBeGreaterThan(3);
  expect([...shown].sort()).toEqual(shown);
  await page.keyboard.press('f');
  await expect(page.getByTestId('live-age')).toHaveText('paused');
  // Every part of the page shows the same instant's figures, once the wave that was under way has come.
  let live = { asOf: '', price: NaN, atm30: NaN };
  await expect
    .poll(async () => {
      live = (await (await request.get('/api/v1/underlyings/RYE/term?asOf=live')).json()) as typeof live;
      return Date.parse(live.asOf) === Date.parse(await shownInstant(page));
    })
    .toBe(true);
  await expect(price(page)).toHaveText(live.price.toFixed(2));
  await expect(page.locator('[data-figure=atm30]').first()).toHaveText(`${(100 * live.atm30).toFixed(1)} %`);
  const stopped = await shownInstant(page);
  await page.keyboard.press('[');
  await expect(page).not.toHaveURL(/asOf=live/);
  const stored = await shownInstant(page);
  expect(Date.parse(stored)).toBeLessThanOrEqual(Date.parse(stopped));
  expect(Date.parse(stored)).toBeGreaterThan(Date.parse(start));
  // Forward again, by what was stored on the way, to the market as it runs.
  for (let before = stored; !page.url().includes('asOf=live');) {
    await page.keyboard.press(']');
    await expect.poll(async () => page.url().includes('asOf=live') || (await shownInstant(page)) > before).toBe(true);
    before = await shownInstant(page);
  }
  expect((await shownInstant(page)) >= stored).toBe(true);
});

test('tabs of one browser share one stream, each with its own underlying', async ({ context, request }) => {
  // A tab that opened a stream of its own would hear nothing: waves can only come through the shared worker.
  const [first, second] = [await context.newPage(), await context.newPage()];
  for (const page of [first, second]) await page.addInitScript(() => Reflect.deleteProperty(window, 'EventSource'));
  await openPage(first, '/term/VM50?asOf=live');
  await openPage(second, '/skew/TERN?asOf=live');
  await request.post('/api/v1/feed', { data: { action: 'start', speed: 60 } });
  for (const page of [first, second]) {
    const start = await shownInstant(page);
    await expect.poll(async () => Date.parse(await shownInstant(page)) > Date.parse(start)).toBe(true);
  }
  await expect(first.getByRole('heading', { name: 'VM50' })).toBeVisible();
  await expect(second.getByRole('heading', { name: 'TERN' })).toBeVisible();
});

test('take bars as Parquet and bring them again; take a table as CSV and workbook, a chart as picture and data', async ({
  page,
  request,
}) => {
  await openPage(page, '/data');
  const row = page.getByTestId('stored').getByRole('row', { name: /^KELPA/ });
  // Today, and the two days before that the small demo keeps.
  await expect(row).toHaveText(/^KELPA33/);
  await page.getByLabel('Table to export').selectOption('bars');
  const barsDownload = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export bars of KELPA as parquet' }).click();
  const bars = await (await barsDownload).path();
  const before = await (await request.get('/api/v1/exports/bars/KELPA?format=csv')).text();
  const wayIn = page.getByLabel(/Drop files or folders/);
  await wayIn.setInputFiles({
    name: 'kelpa-bars.parquet',
    mimeType: 'application/octet-stream',
    buffer: readFileSync(bars),
  });
  await expect(page.getByTestId('table-preview')).toContainText(/50\d rows of bars of KELPA: 0 new, 0 would\s+change/);
  await page.getByRole('button', { name: 'Import', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: /50\d rows of bars/ })).toBeVisible();
  expect(await (await request.get('/api/v1/exports/bars/KELPA?format=csv')).text()).toBe(before);
  // A table that is wrong says where, and is not taken.
  await wayIn.setInputFiles({
    name: 'wrong.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('underlying,session,open,high,low,close,volume\nKELPA,2031-03-14,1,1,1,many,1\n'),
  });
  await expect(page.getByTestId('table-preview')).toContainText('row 1, close many: a number with a decimal point');
  await expect(page.getByRole('button', { name: 'Import', exact: true })).toBeDisabled();

  await openPage(page, '/term/KELPA');
  await expect(page.locator('[data-ready=true]')).toBeVisible();
  const saved = async (name: string) => {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name, exact: true }).click();
    return readFileSync(await (await download).path());
  };
  const csv = (await saved('KELPA term as CSV')).toString().trim().split('\n');
  expect(csv[0]).toMatch(/^symbol,currency,asOf,expiry,days,forward,/);
  expect(csv).toHaveLength(14);
  const shownAtm = await page.locator('[data-figure="atm~2031-04-18"]').first().textContent();
  const inFile = csv.find((line) => line.includes('2031-04-18'))?.split(',') ?? [];
  const atm = Number(inFile[csv[0].split(',').indexOf('atm')]);
  expect((atm * 100).toFixed(1)).toBe(shownAtm);
  // What is printed is rounded; the file is not.
  const { term } = (await (await request.get('/api/v1/underlyings/KELPA/term')).json()) as {
    term: { expiry: string; atm: number }[];
  };
  expect(atm).toBe(term.find((e) => e.expiry === '2031-04-18')?.atm);
  // A workbook is a zip archive.
  expect((await saved('KELPA term as XLSX')).subarray(0, 2).toString()).toBe('PK');
  const label = 'At-the-money volatility by expiry';
  expect((await saved(`${label} as PNG`)).subarray(1, 4).toString()).toBe('PNG');
  expect((await saved(`${label} as SVG`)).toString()).toContain('<svg');
  expect((await saved(`Data of ${label} as CSV`)).toString()).toMatch(/^line,x,y\n/);
});

test('what a wave changes in Chain fades, and stands still for who wants no motion', async ({ page }) => {
  await openPage(page, '/chain/VM50?asOf=live&sides=both');
  const table = page.getByTestId('two-sided');
  await expect(table.locator('tbody [data-key]').first()).toBeVisible();
  const fading = () =>
    page.evaluate(() => document.getAnimations().filter((a) => a.effect?.getTiming().duration === 1600).length);
  const wave = page.getByRole('button', { name: 'One wave' });
  await expect(async () => {
    await wave.click();
    await expect.poll(fading, { timeout: 1500 }).toBeGreaterThan(3);
  }).toPass();
  await expect(table.locator('[data-changed]')).toHaveCount(0);
  await expect.poll(fading).toBe(0);
  await page.emulateMedia({ reducedMotion: 'reduce' });
  await expect(async () => {
    await wave.click();
    await expect(table.locator('[data-changed]').first()).toBeVisible();
  }).toPass();
  expect(await fading()).toBe(0);
});

test("read the session's tape and the listed spreads, outright prints against their quotes", async ({
  page,
  request,
}) => {
  const asOf = '2031-03-14T13:00:00%2B01:00';
  const answer = await request.get(`/api/v1/underlyings/RYE/trades?asOf=${asOf}`);
  const { trades } = (await answer.json()) as {
    trades: {
      instant: string;
      kind: string;
      price: number;
      size: number;
      bid: number;
      ask: number;
      legs: { expiry: string; strike: number; side: string }[];
    }[];
  };
  await openPage(page, `/chain/RYE?asOf=${asOf}&table=trades`);
  await page.getByRole('button', { name: 'all', exact: true }).last().click();
  const prints = page.getByTestId('trades');
  // Not all of them are drawn; all of them are there.
  const counts = (count: number) => expect(prints).toHaveAttribute('aria-rowcount', String(count + 1));
  await counts(trades.length);
  await expect(prints.locator('tbody [data-key]').first()).toContainText(trades[0].instant.slice(11, 19));
  expect(trades.every((t) => t.instant.slice(0, 10) === '2031-03-14' && t.instant.slice(11) <= '13:00:00+01:00')).toBe(
    true,
  );
  // How far a trade stood from the fit: from the middle that it met, and that from theory as it stands now.
  const [outright] = trades.filter((t) => t.kind === 'outright');
  const [{ expiry, strike, side }] = outright.legs;
  const { quotes } = (await (
    await request.get(`/api/v1/underlyings/RYE/chain?asOf=${asOf}&expiry=${expiry}`)
  ).json()) as { quotes: { strike: number; side: string; mid: number; theory: number; vega: number }[] };
  const quote = quotes.find((q) => q.strike === strike && q.side === side);
  if (!quote) throw new Error(`${strike} ${side}`);
  const met = 0.5 * (outright.bid + outright.ask);
  const points = (outright.price - met + quote.mid - quote.theory) / quote.vega;
  const distance = prints.locator(`tbody [data-key="${trades.indexOf(outright)}"] td[data-column=distance]`);
  await expect
    .poll(async () => Number.parseFloat(((await distance.textContent()) ?? '').replace('−', '-')))
    .toBeCloseTo(points, 1);
  await page.getByLabel('Where trades met their quote').selectOption('at offer');
  await expect(page).toHaveURL(/met=at\+offer|met=at%20offer/);
  await counts(trades.filter((t) => t.price >= t.ask).length);
  await page.getByLabel('Fewest contracts of a trade').fill('10');
  await page.getByLabel('Fewest contracts of a trade').press('Enter');
  await counts(trades.filter((t) => t.price >= t.ask && t.size >= 10).length);
  await page.getByLabel('Fewest contracts of a trade').fill('0');
  await page.getByLabel('Fewest contracts of a trade').press('Enter');
  await page.getByLabel('Where trades met their quote').selectOption('any');
  await page.getByRole('button', { name: 'spreads', exact: true }).last().click();
  await counts(trades.filter((t) => t.kind !== 'outright').length);
  await page.getByRole('group', { name: 'Table' }).getByRole('button', { name: 'spreads' }).click();
  await expect(page).toHaveURL(/table=spreads/);
  const spreads = (await (await request.get(`/api/v1/underlyings/RYE/spreads?asOf=${asOf}`)).json()) as {
    spreads: { bid: number; ask: number }[];
  };
  const rows = page.getByTestId('spreads').locator('tbody tr');
  await expect(rows).toHaveCount(spreads.spreads.length);
  await expect(rows.first().locator('td[data-column=bid]')).toHaveText(spreads.spreads[0].bid.toFixed(2));
  // Theory of nearly every spread lies inside its quote.
  const inside = await rows.getByText('inside', { exact: true }).count();
  expect(inside / spreads.spreads.length).toBeGreaterThan(0.8);
});
