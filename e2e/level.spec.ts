import { readFileSync } from 'node:fs';
import type { APIRequestContext, Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

/* Is volatility high or low? Each question is answered on the screen by the numbers of the API. */

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

interface Place {
  rank: number | null;
  percentile: number;
  high: number;
  highSession: string;
  low: number;
  lowSession: string;
  count: number;
}
interface Band {
  sessions: number;
  independent: number;
  mean: number | null;
  worst: number | null;
  positive: number | null;
}
interface Level {
  asOf: string;
  now: number | null;
  place: Place | null;
  ratioNow: number | null;
  ratio: number | null;
  implied: { atm30: number; rank: number; percentile: number; low: number; high: number };
  realized: { estimator: string; window: number; volatility: number | null; standardError: number | null }[];
  realizedNow: { volatility: number | null; eventSessions: number };
  forecasts: { model: string; days: number; volatility: number | null }[];
  cone: { days: number; min: number; p50: number; max: number }[];
  bands: Band[];
  expiries: { date: string; ratio: number | null }[];
  sessions: { session: string; implied: number | null; realized: number | null }[];
}
interface Record_ {
  best: string | null;
  isBestBeyondChance: boolean | null;
  records: { model: string; qlike: number | null; independent: number }[];
}

const levelOf = async (request: APIRequestContext, symbol: string, query = ''): Promise<Level> =>
  (await (await request.get(`/api/v1/underlyings/${symbol}/level${query}`)).json()) as Level;
const reading = (page: Page) => page.getByRole('region', { name: 'Reading' });
const percent = (v: number | null | undefined) => (100 * (v ?? NaN)).toFixed(1);
const signed = (v: number | null | undefined) => {
  const text = Math.abs(100 * (v ?? NaN)).toFixed(1);
  return Number(text) === 0 ? text : (v ?? 0) < 0 ? `−${text}` : `+${text}`;
};
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const dayText = (date: string) => `${Number(date.slice(8))} ${MONTHS[Number(date.slice(5, 7)) - 1]}`;

test('why is the rank so unlike the percentile here? One session drew the range, and it is named', async ({
  page,
  request,
}) => {
  const symbols = ['TYNDA', 'SKALD', 'MERRO', 'RYE', 'TERN', 'VM50', 'KELPA'];
  const levels = await Promise.all(symbols.map(async (symbol) => ({ symbol, level: await levelOf(request, symbol) })));
  const gap = ({ level }: (typeof levels)[number]) =>
    Math.abs((level.place?.rank ?? 0) - (level.place?.percentile ?? 0));
  const [{ symbol, level }] = levels.sort((a, b) => gap(b) - gap(a));
  const place = level.place as Place;
  expect(gap({ symbol, level })).toBeGreaterThan(0.2);
  await openPage(page, `/level/${symbol}`);
  const isLower = (place.rank ?? 0) < place.percentile;
  const [value, session] = isLower ? [place.high, place.highSession] : [place.low, place.lowSession];
  await expect(reading(page)).toContainText(
    `Its rank is ${Math.round(100 * (place.rank ?? 0))}, ${isLower ? 'lower' : 'higher'}, because it is measured to the ${isLower ? 'highest' : 'lowest'} session alone: ${dayText(session)}`,
  );
  await expect(reading(page)).toContainText(`reached ${percent(value)} %`);
  await expect(page.getByTestId('distribution')).toBeVisible();
  await reading(page).locator('[data-figure="level~rank"]').click();
  const workings = page.getByRole('complementary', { name: 'Workings' });
  await expect(workings).toContainText('(σ − low) / (high − low)');
  await expect(workings).toContainText(`session ${place.highSession}`);
  // Both kinds of place are the API's own figures of a year.
  expect(level.implied.rank).toBeCloseTo(place.rank ?? NaN, 12);
  expect((level.implied.atm30 - level.implied.low) / (level.implied.high - level.implied.low)).toBeCloseTo(
    level.implied.rank,
    12,
  );
});

test('was selling above the 80th percentile paid in this name? What came after, with how little it proves', async ({
  page,
  request,
}) => {
  const level = await levelOf(request, 'VM50');
  await openPage(page, '/level/VM50');
  const rows = page.getByTestId('after').getByRole('row');
  for (const [i, band] of level.bands.entries()) {
    const row = rows.nth(i + 1);
    await expect(row.locator('[data-column=sessions]')).toHaveText(String(band.sessions));
    await expect(row.locator('[data-column=independent]')).toHaveText(String(band.independent));
    await expect(row.locator('[data-column=mean]')).toHaveText(band.mean === null ? '—' : signed(band.mean));
    await expect(row.locator('[data-column=worst]')).toHaveText(band.worst === null ? '—' : signed(band.worst));
    await expect(row.locator('[data-column=positive]')).toHaveText(
      band.positive === null ? '—' : `${(100 * band.positive).toFixed(0)} %`,
    );
  }
  expect(level.bands.reduce((sum, b) => sum + b.sessions, 0)).toBeGreaterThan(100);
  await expect(reading(page)).toContainText('that proves little');
  await rows.nth(5).locator('[data-column=mean]').click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toContainText('block bootstrap');
  // All that is drawn leaves as a file, session by session.
  const waiting = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Data of Level of VM50/ }).click();
  const lines = readFileSync(await (await waiting).path(), 'utf8')
    .trim()
    .split('\n');
  expect(lines[0]).toContain('later realized');
  expect(lines.length).toBe(Math.min(253, level.sessions.length) + 1);
  expect(lines.at(-1)).toContain(String(level.now));
});

test('which forecast served best, and is implied over it?', async ({ page, request }) => {
  const query = '?implied=atm&days=7';
  const level = await levelOf(request, 'VM50', query);
  const record = (await (await request.get(`/api/v1/underlyings/VM50/forecast-record${query}`)).json()) as Record_;
  await openPage(page, '/level/VM50?days=7');
  const table = page.getByTestId('forecasts');
  const best = record.records.find((r) => r.model === record.best);
  expect(best?.independent).toBeGreaterThanOrEqual(20);
  expect(record.records.every((r) => (r.qlike ?? Infinity) >= (best?.qlike ?? NaN))).toBe(true);
  const expected = level.forecasts.find((f) => f.model === record.best)?.volatility ?? null;
  const bold = table.locator('tr.font-semibold');
  await expect(bold.locator('[data-column=qlike]')).toHaveText((best?.qlike ?? NaN).toFixed(3));
  await expect(bold.locator('[data-column=expects]')).toHaveText(percent(expected));
  await expect(reading(page)).toContainText(record.isBestBeyondChance === true ? 'more than chance' : /chance/);
  if (record.best !== 'implied') {
    const gap = (level.now ?? NaN) - (expected ?? NaN);
    await expect(reading(page)).toContainText(
      `implied stands ${Math.abs(100 * gap).toFixed(1)} points ${gap >= 0 ? 'over' : 'under'} it`,
    );
  }
  // Drawn beside both on demand, and kept in the address.
  await page.getByRole('combobox', { name: 'forecast' }).selectOption('har');
  await expect(page).toHaveURL(/forecast=har/);
  await expect(page.locator('path[data-line=forecast]')).toHaveAttribute('d', /^M/);
});

test('realized without the report days: both sides leave them out, and it is said how many', async ({
  page,
  request,
}) => {
  const [with_, without] = await Promise.all(
    ['', '&withoutEvents=yes'].map((more) => levelOf(request, 'KELPA', `?window=126${more}`)),
  );
  expect(without.realizedNow.eventSessions).toBeGreaterThan(2);
  await openPage(page, '/level/KELPA?window=126');
  const shown = reading(page).locator('[data-figure="level~realized"]');
  await expect(shown).toHaveText(`${percent(with_.realizedNow.volatility)} %`);
  await page.getByRole('button', { name: 'without events' }).click();
  await expect(page).toHaveURL(/withoutEvents=yes/);
  await expect(shown).toHaveText(`${percent(without.realizedNow.volatility)} %`);
  await expect(reading(page)).toContainText(`${without.realizedNow.eventSessions} sessions with scheduled events`);
  await expect(reading(page)).toContainText('without events');
  await expect(reading(page).locator('[data-figure="level~implied"]')).toHaveText(`${percent(without.now)} %`);
  // Undone by key, as any change of a view.
  await page.keyboard.press('Control+z');
  await expect(page).not.toHaveURL(/withoutEvents/);
});

test('everything follows the instant; a session is read by pointer and by keys alike', async ({ page, request }) => {
  await openPage(page, '/level/KELPA');
  const now = await levelOf(request, 'KELPA');
  await expect(reading(page).locator('[data-figure="level~ratio"]')).toHaveText((now.ratioNow ?? NaN).toFixed(2));
  const chart = page.getByRole('slider', { name: 'Session that is read' });
  await chart.focus();
  await page.keyboard.press('End');
  const readout = page.getByTestId('readout');
  await expect(readout.locator('[data-line=implied]')).toHaveText(`${percent(now.now)} %`);
  await page.keyboard.press('ArrowLeft');
  const before = now.sessions[now.sessions.length - 2];
  await expect(readout).toContainText(dayText(before.session));
  await expect(readout.locator('[data-line=implied]')).toHaveText(`${percent(before.implied)} %`);
  await expect(readout.locator('[data-line=realized]')).toHaveText(`${percent(before.realized)} %`);
  await chart.blur();
  await page.keyboard.press('{');
  await expect(page.getByRole('banner').locator('time')).toHaveAttribute('datetime', /^2031-03-13/);
  const then = await levelOf(request, 'KELPA', '?asOf=2031-03-13T17:30:00%2B01:00');
  await expect(reading(page).locator('[data-figure="level~ratio"]')).toHaveText((then.ratioNow ?? NaN).toFixed(2));
  expect(then.sessions.at(-1)?.session).toBe('2031-03-13');
});

test('short histories say what is missing and show what there is', async ({ page, request }) => {
  // One chain, two years of bars: no past of implied, but realized and its cone.
  const level = await levelOf(request, 'PELAG');
  expect(level.place).toBeNull();
  expect(level.cone.length).toBeGreaterThan(4);
  await openPage(page, '/level/PELAG');
  await expect(reading(page)).toContainText('nothing is stored before, so it has no past yet');
  await expect(reading(page)).toContainText(`${percent(level.realizedNow.volatility)} %`);
  await expect(page.getByTestId('level')).toContainText('A reading needs 63 sessions of implied volatility before it');
});

test('the API answers realized volatility of bars as the contract says, and names what is wrong', async ({
  request,
}) => {
  const { cases } = JSON.parse(
    readFileSync(new URL('../core/test/reference/realized-volatility.json', import.meta.url), 'utf8'),
  ) as { cases: { rows: number[][]; results: { lastRow: number; window: number; yangZhang: number }[] }[] };
  const [{ rows, results }] = cases;
  const bars = rows.map(([open, high, low, close]) => ({ open, high, low, close }));
  const ask = (data: object) => request.post('/api/v1/realized-volatility', { data });
  for (const { lastRow, window, yangZhang } of results) {
    const answer = await ask({ bars, estimator: 'yang-zhang', window });
    const { series } = (await answer.json()) as { series: (number | null)[] };
    expect(series).toHaveLength(bars.length);
    expect(Math.abs((series[lastRow] ?? NaN) / yangZhang - 1)).toBeLessThan(1e-12);
    // Before the window is full there is none: with the close before it, one bar later.
    expect(series.findIndex((v) => v !== null)).toBe(window);
  }
  const gapped = bars.map((bar, i) => (i === 100 ? null : bar));
  const answer = await ask({ bars: gapped, estimator: 'parkinson', window: 10 });
  const { series } = (await answer.json()) as { series: (number | null)[] };
  expect(series.slice(99, 111).map((v) => v === null)).toEqual([false, ...Array<boolean>(10).fill(true), false]);
  for (const [data, path] of [
    [{ bars: [{ open: 1, high: 0.5, low: 0.4, close: 0.45 }], estimator: 'parkinson', window: 2 }, 'bars[0].high'],
    [{ bars: [{ open: 1, high: 2, low: -1, close: 1 }], estimator: 'parkinson', window: 2 }, 'bars[0].low'],
    [{ bars, estimator: 'parkinson', window: 1 }, 'window'],
    [{ bars, estimator: 'guess', window: 5 }, 'estimator'],
  ] as const) {
    const refused = await ask(data);
    expect(refused.status()).toBe(400);
    expect(((await refused.json()) as { errors: { path: string }[] }).errors.map((e) => e.path)).toContain(path);
  }
});
