import type { APIRequestContext, Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

/* How far can it go, and how likely? Each question is answered on the screen by the numbers of the API. */

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

interface RangeExpiry {
  date: string;
  forward: number;
  straddle: number | null;
  oneSigma: number | null;
  events: { label: string; move: number | null }[];
}
interface SourceOdds {
  source: string;
  probability: number | null;
  volatility: number | null;
}
interface OddsStrike {
  strike: number;
  listedBelow: number;
  listedAbove: number;
  premium: number;
}

async function answer<T>(request: APIRequestContext, path: string): Promise<T> {
  const response = await request.get(`/api/v1/underlyings/${path}`);
  expect(response.ok(), await response.text()).toBe(true);
  return (await response.json()) as T;
}
const rangeOf = async (request: APIRequestContext, symbol: string, query = '') =>
  (await answer<{ expiries: RangeExpiry[] }>(request, `${symbol}/range${query}`)).expiries;
const oddsOf = async (request: APIRequestContext, symbol: string, query: string) =>
  new Map(
    (await answer<{ results: SourceOdds[] }>(request, `${symbol}/probability?${query}`)).results.map((r) => [
      r.source,
      r,
    ]),
  );
/** A month away. */
const FOCUS = '2031-04-18';
const reading = (page: Page) => page.getByRole('region', { name: 'Reading' });
const row = (page: Page, table: string, key: string) => page.getByTestId(table).locator(`tr[data-key="${key}"]`);
const cell = (page: Page, table: string, key: string, column: string) =>
  row(page, table, key).locator(`td[data-column="${column}"]`);
/** Whole percent, one decimal below 5 and above 95. */
const chance = (p: number | null | undefined) => {
  const percent = 100 * (p ?? NaN);
  return `${percent < 5 || percent > 95 ? percent.toFixed(1) : percent.toFixed(0)} %`;
};
const thousands = (v: number, decimals: number) => v.toFixed(decimals).replace(/\B(?=(\d{3})+(?!\d))/, '\u202f');

test('the move that the market expects by the trial readout, and by the options that end today', async ({ page }) => {
  const merro = await rangeOf(page.request, 'MERRO');
  const readout = merro.find((e) => e.date === '2031-03-28');
  await openPage(page, '/range/MERRO?expiry=2031-03-28');
  await expect(reading(page)).toContainText(`± ${readout?.straddle?.toFixed(2)}`);
  const event = readout?.events.find((e) => /readout/i.test(e.label));
  await expect(reading(page)).toContainText(`alone is worth ± ${event?.move?.toFixed(2)}`);
  await expect(cell(page, 'expected-moves', '2031-03-28', 'move')).toHaveText((readout?.straddle ?? NaN).toFixed(2));
  // Another kind of move, in table, Reading and Workings.
  await page.getByRole('group', { name: 'Kind of expected move' }).getByRole('button', { name: 'σ√T' }).click();
  await expect(cell(page, 'expected-moves', '2031-03-28', 'move')).toHaveText((readout?.oneSigma ?? NaN).toFixed(2));
  await cell(page, 'expected-moves', '2031-03-28', 'move').click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toContainText('One standard deviation');

  const [today] = await rangeOf(page.request, 'VM50');
  expect(today.date).toBe('2031-03-14');
  await openPage(page, '/range/VM50');
  await expect(cell(page, 'expected-moves', '2031-03-14', 'move')).toHaveText((today.straddle ?? NaN).toFixed(1));
  await expect(cell(page, 'expected-moves', '2031-03-14', 'days')).toHaveText('0.1');

  // On a day on which nothing expires the surface tells it.
  const { between } = await answer<{ between: ({ date: string; oneSigma: number } | null)[] }>(
    page.request,
    'VM50/range?days=45&days=5000',
  );
  expect(between[1]).toBeNull();
  await page.getByLabel('Days ahead whose expected move is told').fill('45');
  await page.getByLabel('Days ahead whose expected move is told').press('Enter');
  await expect(page).toHaveURL(/between=45/);
  await page.getByRole('group', { name: 'Kind of expected move' }).getByRole('button', { name: 'σ√T' }).click();
  await expect(cell(page, 'expected-moves', `between ${between[0]?.date}`, 'move')).toHaveText(
    (between[0]?.oneSigma ?? NaN).toFixed(1),
  );
});

test('strikes with 20 % to finish in the money on either side, about 60 days out, and what they cost', async ({
  page,
}) => {
  const found = await answer<Record<'put' | 'call', OddsStrike>>(
    page.request,
    'VM50/strikes?expiry=2031-05-16&probability=0.2&kind=itm',
  );
  await openPage(page, '/range/VM50?expiry=2031-05-16');
  await page.getByRole('button', { name: 'strike for odds' }).click();
  for (const side of ['put', 'call'] as const) {
    await expect(cell(page, 'odds-strikes', side, 'strike')).toHaveText(thousands(found[side].strike, 1));
    await expect(cell(page, 'odds-strikes', side, 'below')).toContainText(thousands(found[side].listedBelow, 0));
    await expect(cell(page, 'odds-strikes', side, 'above')).toContainText(thousands(found[side].listedAbove, 0));
  }
  // Held against the odds themselves: below the put's strike one in five.
  const back = await oddsOf(page.request, 'VM50', `expiry=2031-05-16&kind=below&level=${found.put.strike}`);
  expect(back.get('smile')?.probability).toBeCloseTo(0.2, 6);
  const before = await cell(page, 'odds-strikes', 'put', 'strike').textContent();
  await page.getByLabel('Chance, percent').fill('10');
  await page.getByLabel('Chance, percent').press('Enter');
  await expect(cell(page, 'odds-strikes', 'put', 'strike')).not.toHaveText(before ?? '');
  await expect(page).toHaveURL(/chance=0\.1/);
  // The chance is pulled, or stepped, and the strikes follow.
  const line = page.getByRole('slider', { name: 'Chance that strikes are looked for by' });
  await line.press('PageUp');
  await expect(page).toHaveURL(/chance=0\.15/);
  const box = await line.boundingBox();
  if (!box) throw new Error('no line');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 150, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  const pulled = Number(await line.getAttribute('aria-valuenow')) / 100;
  expect(pulled).toBeGreaterThan(0.2);
  const there = await answer<Record<'put' | 'call', OddsStrike>>(
    page.request,
    `VM50/strikes?expiry=2031-05-16&probability=${pulled}&kind=itm`,
  );
  await expect(cell(page, 'odds-strikes', 'put', 'strike')).toHaveText(thousands(there.put.strike, 1));
  // A listed strike is picked as a leg, here and for the other views.
  await page
    .getByRole('button', { name: /^Pick one [\d\s]+ put more$/ })
    .first()
    .click();
  const picked = page.getByTestId('picked');
  await expect(picked).toContainText('+1');
  await expect(picked).toContainText('put');
  await expect(page).toHaveURL(new RegExp(`legs=1~2031-05-16~${there.put.listedBelow}~put`));
  await page.getByRole('link', { name: /Chain/ }).click();
  await expect(page).toHaveURL(/\/chain\/VM50\?.*legs=1~2031-05-16/);
  await expect(page.getByTestId('picked')).toContainText('+1');
});

test('why does one source say more than another? The parts of the difference stand beside it and add up', async ({
  page,
}) => {
  await openPage(page, `/range/VM50?level=4560&expiry=${FOCUS}`);
  const query = 'kind=below&level=4560';
  const [finish, touch] = await Promise.all([
    oddsOf(page.request, 'VM50', `${query}&expiry=${FOCUS}`),
    oddsOf(page.request, 'VM50', `kind=touch&level=4560&expiry=${FOCUS}`),
  ]);
  for (const source of ['smile', 'own', 'atm', 'index', 'realized', 'forecast', 'history']) {
    await expect(cell(page, 'odds-matrix', source, 'finish')).toHaveText(chance(finish.get(source)?.probability));
    await expect(cell(page, 'odds-matrix', source, 'touch')).toHaveText(chance(touch.get(source)?.probability));
  }
  for (const source of ['own', 'atm', 'index', 'realized', 'forecast', 'history']) {
    const text = (await cell(page, 'odds-matrix', source, 'steps').textContent()) ?? '';
    const parts = [...text.matchAll(/([+−])(\d+\.\d)/g)].map(
      ([, sign, digits]) => Number(digits) * (sign === '+' ? 1 : -1),
    );
    const whole = 100 * ((finish.get(source)?.probability ?? NaN) - (finish.get('smile')?.probability ?? NaN));
    // Each part is rounded to a tenth, and what moves nothing is left out.
    expect(Math.abs(parts.reduce((a, b) => a + b, 0) - whole), `${source}: ${text}`).toBeLessThan(0.25);
  }
  // The number opens its Workings, which list the parts.
  await cell(page, 'odds-matrix', 'own', 'finish').click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toContainText('of it by slope');
});

test('a line is dragged, stepped and typed; what is in closed form follows at once, the rest soon', async ({
  page,
}) => {
  await openPage(page, `/range/VM50?level=4560&expiry=${FOCUS}`);
  const line = page.getByRole('slider', { name: 'Price whose odds are read' });
  await expect(line).toHaveAttribute('aria-valuenow', '4560');
  await line.focus();
  await line.press('PageDown');
  const stepped = Number(await line.getAttribute('aria-valuenow'));
  expect(stepped).toBeLessThan(4560);
  await expect(page).toHaveURL(new RegExp(`level=${stepped}`));
  const box = await line.boundingBox();
  if (!box) throw new Error('no line');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y - 40, { steps: 6 });
  await page.mouse.up();
  const dragged = Number(await line.getAttribute('aria-valuenow'));
  expect(dragged).toBeGreaterThan(stepped);
  await page.getByLabel('Price whose odds are read, typed').fill('4700');
  await page.getByLabel('Price whose odds are read, typed').press('Enter');
  await expect(line).toHaveAttribute('aria-valuenow', '4700');
  const odds = await oddsOf(page.request, 'VM50', `kind=below&level=4700&expiry=${FOCUS}`);
  for (const source of ['smile', 'history'])
    await expect(cell(page, 'odds-matrix', source, 'finish')).toHaveText(chance(odds.get(source)?.probability));
  // A second line asks for what lies between.
  await page.getByRole('button', { name: 'two', exact: true }).click();
  await expect(page.getByTestId('between')).toContainText('Between');
});

test('freeze the move before the event, and see where it ended', async ({ page }) => {
  await openPage(page, '/range/TYNDA?asOf=2031-02-27T17:30:00%2B01:00&panel=frozen');
  await page.getByLabel('Name of the levels to keep').fill('before the readout');
  await page.getByRole('button', { name: 'freeze', exact: true }).click();
  const kept = page.getByTestId('frozen-levels');
  await expect(kept).toContainText('before the readout');
  await expect(kept).toContainText('no session has ended since');
  // Today, two weeks later, those whose expiry has come are judged by the closes since.
  await openPage(page, '/range/TYNDA?panel=frozen');
  const { frozen } = await answer<{
    frozen: { id: string; levels: { date: string; low: number; high: number; state: string; settled: number }[] }[];
  }>(page.request, 'TYNDA/frozen-levels');
  const over = frozen[0].levels.filter((l) => l.state !== 'open');
  expect(over.length).toBeGreaterThan(0);
  const { bars } = await answer<{ bars: { session: string; close: number }[] }>(page.request, 'TYNDA/bars?sessions=60');
  for (const level of over) {
    const close = bars.findLast((b) => b.session <= level.date)?.close ?? NaN;
    expect(level.settled).toBeCloseTo(close, 9);
    expect(level.state).toBe(close >= level.low && close <= level.high ? 'inside' : 'outside');
    const key = `${frozen[0].id} ${level.date}`;
    await expect(cell(page, 'frozen-levels', key, 'verdict')).toContainText(`ended ${level.state}`);
    await expect(cell(page, 'frozen-levels', key, 'settled')).toHaveText(close.toFixed(2));
  }
  await expect(page.locator('[data-frozen]').first()).toBeVisible();
  // An instant before knows nothing of them; what is deleted can be put back.
  await openPage(page, '/range/TYNDA?asOf=2031-02-27T10:00:00%2B01:00&panel=frozen');
  await expect(page.getByText('Nothing was kept up to this instant')).toBeVisible();
  await openPage(page, '/range/TYNDA?panel=frozen');
  await page.getByRole('button', { name: 'delete “before the readout”', exact: true }).click();
  await expect(page.getByText('Nothing was kept up to this instant')).toBeVisible();
  await page.getByRole('button', { name: 'put back' }).click();
  await expect(kept).toContainText('before the readout');
  await page.getByRole('button', { name: 'delete “before the readout”', exact: true }).click();
  await expect(page.getByText('Nothing was kept up to this instant')).toBeVisible();
});

test('what open options are worth by settlement, and what odds were worth in the past', async ({ page }) => {
  await openPage(page, '/range/KELPA?panel=interest');
  const { quotes } = await answer<{ quotes: { strike: number; side: string; openInterest: number | null }[] }>(
    page.request,
    'KELPA/chain',
  );
  const worth = (price: number) =>
    quotes.reduce((sum, q) => {
      const inner = q.side === 'call' ? price - q.strike : q.strike - price;
      return sum + Math.max(0, inner) * (q.openInterest ?? 0);
    }, 0);
  const strikes = [...new Set(quotes.map((q) => q.strike))].sort((a, b) => a - b);
  const least = strikes.reduce((a, b) => (worth(b) < worth(a) ? b : a));
  await expect(page.getByTestId('least-worth')).toHaveText(String(least));
  await page.getByRole('button', { name: 'record', exact: true }).click();
  await page.getByRole('group', { name: 'Days ahead' }).getByRole('button', { name: '7 days' }).click();
  await expect(page.getByTestId('odds-record')).toContainText('that do not overlap');
  await page.getByRole('group', { name: 'Whose windows' }).getByRole('button', { name: 'its sector' }).click();
  await expect(page.getByTestId('odds-record')).toContainText('stretches of time that do not overlap');

  // The readout of two weeks ago: priced the evening before, and what came.
  interface Event {
    label: string;
    instant: string;
    move: number | null;
    came: number;
  }
  const { events } = await answer<{ events: Event[] }>(page.request, 'TYNDA/odds-record');
  const readout = events.find((e) => /readout/i.test(e.label));
  await openPage(page, '/range/TYNDA?panel=record');
  const key = `${readout?.instant} ${readout?.label}`;
  await expect(cell(page, 'event-moves', key, 'move')).toHaveText((100 * (readout?.move ?? NaN)).toFixed(1));
  const came = 100 * Math.expm1(readout?.came ?? NaN);
  await expect(cell(page, 'event-moves', key, 'came')).toHaveText(
    `${came < 0 ? '−' : '+'}${Math.abs(came).toFixed(1)}`,
  );
});
