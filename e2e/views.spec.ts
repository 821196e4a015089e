import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

interface TermItem {
  expiry: string;
  days: number;
}

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

test('explain a number: the at-the-money volatility opens its Workings, by link too', async ({ page }) => {
  await openPage(page, '/term/VM50');
  const number = page.locator('[data-figure^="atm~"]').nth(2);
  const shown = (await number.textContent()) ?? '';
  await number.click();
  const drawer = page.getByRole('complementary', { name: 'Workings' });
  await expect(drawer.getByTestId('workings-value')).toContainText(shown.split('.')[0]);
  await expect(drawer).toContainText('Gatheral');
  const link = page.url();
  await openPage(page, '/data');
  await openPage(page, link);
  await expect(page.getByTestId('workings-value')).toContainText(shown.split('.')[0]);
  await page.keyboard.press('Escape');
  await expect(drawer).toBeHidden();
});

test('pick expiries by click and key; the choice stays in the address through views', async ({ page }) => {
  await openPage(page, '/skew/KELPA');
  const ribbon = page.getByRole('navigation', { name: 'Expiries' });
  // More than ten would not be told apart: Skew opens with the monthlies, on an axis that makes all as wide.
  await expect(ribbon).toContainText('9 of 13 shown');
  await expect(page.getByRole('button', { name: 'deviations', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await expect(page).not.toHaveURL(/expiries=|axis=/);
  await page.keyboard.press('a');
  await expect(ribbon).toContainText('13 of 13 shown');
  await expect(page).toHaveURL(/expiries=all/);
  await page.keyboard.press('m');
  await expect(ribbon).toContainText('9 of 13 shown');
  await expect(page).toHaveURL(/expiries=monthly/);
  // Of another underlying the same is meant.
  await page.keyboard.press('3');
  await expect(page).toHaveURL(/\/term\/KELPA\?.*expiries=monthly/);
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/\/skew\/KELPA/);
  await page.keyboard.press('n');
  await expect(page.getByText('No expiry is shown')).toBeVisible();
  await ribbon.getByRole('button', { name: /^18 Apr/ }).click();
  await expect(ribbon).toContainText('1 of 13 shown');
  // Of one expiry strikes are what is asked for.
  await expect(page.getByRole('button', { name: 'strike', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('5');
  await expect(page).toHaveURL(/\/chain\/KELPA\?.*expiries=2031-04-18/);
  await expect(page.getByTestId('ladder').locator('tbody tr').first()).toBeVisible();
});

test('put a rejected quote back and take it out again', async ({ page, request }) => {
  interface Expiry {
    date: string;
    call: { verdict: (string | null)[] };
    put: { verdict: (string | null)[] };
  }
  const { expiries } = (await (await request.get('/api/v1/underlyings/VM50/skew')).json()) as { expiries: Expiry[] };
  const isRestorable = (v: string | null) => v === 'too-wide';
  const found = expiries.find((e) => e.call.verdict.some(isRestorable) || e.put.verdict.some(isRestorable));
  if (!found) throw new Error('the demo has no quote wider than its mid on its last day');
  await openPage(page, `/chain/VM50?expiry=${found.date}&sides=list`);
  const ladder = page.getByTestId('ladder');
  const reject = ladder.getByRole('button', { name: 'spread > mid' });
  const before = await reject.count();
  await reject.first().click();
  await expect(page).toHaveURL(new RegExp(`restored=${found.date}`));
  const back = ladder.getByRole('button', { name: 'put back' });
  await expect(back).toHaveCount(1);
  await expect(reject).toHaveCount(before - 1);
  await back.click();
  await expect(page).not.toHaveURL(/restored/);
  await expect(reject).toHaveCount(before);
});

test('what is excluded of an expiry is one list, with its reasons, in Chain and in Skew', async ({ page, request }) => {
  interface Side {
    verdict: (string | null)[];
  }
  const { expiries } = (await (await request.get('/api/v1/underlyings/VM50/skew')).json()) as {
    expiries: { date: string; call: Side; put: Side }[];
  };
  const outOf = (e: (typeof expiries)[number]) =>
    [...e.call.verdict, ...e.put.verdict].filter((v) => v !== null && v !== 'no-ask').length;
  const most = expiries.reduce((a, b) => (outOf(b) > outOf(a) ? b : a));
  await openPage(page, `/chain/VM50?expiry=${most.date}`);
  for (const key of ['5', '4']) {
    await page.keyboard.press(key);
    await page.getByRole('button', { name: `${outOf(most)} excluded` }).click();
    const list = page.getByRole('list', { name: /^Excluded quotes of/ });
    await expect(list.getByRole('listitem')).toHaveCount(outOf(most));
    await list
      .getByRole('button', { name: /^Put back/ })
      .first()
      .click();
    await expect(page).toHaveURL(/restored=/);
    // The list stays, and what was put back with it.
    await expect(list.getByRole('listitem')).toHaveCount(outOf(most));
    await list.getByRole('button', { name: /^Take out/ }).click();
    await expect(page).not.toHaveURL(/restored/);
    await page.keyboard.press('Escape');
    await expect(list).toBeHidden();
    // From the Reading the same, of all expiries that are shown.
    await page.getByRole('region', { name: 'Reading' }).getByRole('button', { name: 'List them.' }).click();
    await expect(list.first()).toBeVisible();
    if (key === '5') await expect(list.getByRole('listitem')).toHaveCount(outOf(most));
    await page.keyboard.press('Escape');
    await expect(list).toHaveCount(0);
  }
});

test('the volatility source in force reprices theory at once, and the basis switch scales Greeks by the multiplier', async ({
  page,
}) => {
  await openPage(page, '/chain/VM50?expiry=2031-04-18&sides=list');
  const theory = page.locator('[data-figure="theory~2031-04-18~4500~put"]');
  const smile = Number(await theory.textContent());
  await page.getByText('assumes').click();
  await page.getByRole('button', { name: 'at the money', exact: true }).click();
  // One volatility for all strikes takes the smile's premium out of a downside put.
  await expect.poll(async () => Number(await theory.textContent())).toBeLessThan(0.8 * smile);
  const vega = page.locator('[data-figure="vega~2031-04-18~4800~call"]');
  const share = Number(await vega.textContent());
  await openPage(page, '/chain/VM50?expiry=2031-04-18&sides=list&volatilitySource=atm&basis=contract');
  await expect
    .poll(async () => Number(((await vega.textContent()) ?? '').replace(/\s/g, '')))
    .toBeCloseTo(10 * share, 0);
});

test('American values come: exercise at once has delta −1, the Pricer starts at the value of Chain, Workings name the method', async ({
  page,
}) => {
  await openPage(page, '/chain/KELPA?expiry=2031-04-18&sides=list');
  const ladder = page.getByTestId('ladder');
  await expect(ladder).toHaveAttribute('aria-busy', 'false');
  await expect(page.locator('[data-figure="delta~2031-04-18~105~put"]')).toHaveText('−1.000');
  const theory = page.locator('[data-figure="theory~2031-04-18~95~call"]');
  const value = Number(await theory.textContent());
  await theory.click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toContainText(
    'American, early exercise included: ',
  );
  await expect(page.getByRole('complementary', { name: 'Workings' })).toContainText(
    'KELPA 18 Apr 95 call · 14 Mar 2031 14:00',
  );
  await page.getByRole('link', { name: '95 call, take to Pricer' }).click();
  const price = page
    .getByTestId('greeks')
    .getByRole('row', { name: /^value/ })
    .getByRole('gridcell')
    .nth(1);
  await expect.poll(async () => Number(await price.textContent())).toBeCloseTo(value, 1);
  await expect.poll(async () => Math.abs(Number(await price.textContent()) - value)).toBeLessThan(0.006);
});

test('type a volatility for theory: prices, Reading and Pricer follow it, bad input says how to mend it', async ({
  page,
  request,
}) => {
  await openPage(page, '/chain/VM50?expiry=2031-04-18&sides=list');
  await page.getByText('assumes').click();
  const field = page.getByLabel('typed volatility, %');
  await field.fill('many');
  await field.press('Enter');
  await expect(page.getByText('The typed volatility: a number is needed, such as 25.')).toBeVisible();
  await field.fill('31,5');
  await field.press('Enter');
  await expect(page).toHaveURL(/typedVolatility=0.315/);
  await expect(page.getByText('typed 31.5 %', { exact: false }).first()).toBeVisible();
  await expect(page.getByText('Theory uses one volatility for every strike: 31.5 %')).toBeVisible();
  // The price of the contract that the answer describes, by the API's own pricer.
  const chain = (await (await request.get('/api/v1/underlyings/VM50/chain?expiry=2031-04-18')).json()) as {
    expiry: { forward: number; years: number; impliedRate: number };
  };
  const { forward, years, impliedRate } = chain.expiry;
  const contract = { side: 'call', exercise: 'european', model: 'futures', underlying: forward, strike: 4800, years };
  const priced = (await (
    await request.post('/api/v1/price', {
      data: { contracts: [{ ...contract, rate: impliedRate, volatility: 0.315 }] },
    })
  ).json()) as { results: { price: number }[] };
  const theory = page.locator('[data-figure="theory~2031-04-18~4800~call"]');
  await expect
    .poll(async () => Number(((await theory.textContent()) ?? '').replace(/\s/g, '')))
    .toBeCloseTo(priced.results[0].price, 1);
  await page.keyboard.press('Escape');
  await page.locator('a[href*="/pricer/VM50"][href*="strike=4800"]').first().click();
  await expect(page.getByRole('textbox', { name: 'volatility', exact: false }).first()).toHaveValue(/31.5/);
});

test('another underlying is asked the same question: instant, panel, axis and tenor stay, in the Pricer too', async ({
  page,
}) => {
  const asOf = '2031-03-12T17:30:00%2B01:00';
  const termOf = async (symbol: string) =>
    (
      (await (await page.request.get(`/api/v1/underlyings/${symbol}/term?asOf=${asOf}`)).json()) as {
        term: TermItem[];
      }
    ).term;
  await openPage(page, `/skew/VM50?asOf=${asOf}&axis=delta&by=strikes`);
  const ribbon = page.getByRole('navigation', { name: 'Expiries' });
  await ribbon.getByRole('button', { name: /16 May/ }).click();
  await expect(page).toHaveURL(/expiry=2031-05-16/);
  const change = async (typed: string) => {
    await page.keyboard.press('/');
    await page.getByRole('combobox', { name: 'Symbol, name or date' }).fill(typed);
    await page.keyboard.press('Enter');
  };
  await change('kelpa');
  await expect(page).toHaveURL(/\/skew\/KELPA\?asOf=2031-03-12T17:30:00.*axis=delta&by=strikes&tenor=\d+$/);
  const tenor = Number(new URL(page.url()).searchParams.get('tenor'));
  expect(tenor).toBe(Math.round((await termOf('VM50')).find((e) => e.expiry === '2031-05-16')?.days ?? NaN));
  // Of the other's expiries the one with the days nearest to that is in focus.
  const nearest = (await termOf('KELPA')).reduce((a, b) =>
    Math.abs(b.days - tenor) < Math.abs(a.days - tenor) ? b : a,
  );
  const [year, month, day] = nearest.expiry.split('-').map(Number);
  const text = new Date(Date.UTC(year, month - 1, day)).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });
  await expect(ribbon.locator('[aria-current="true"]')).toHaveAttribute('aria-label', new RegExp(`^${text},`));
  await page.keyboard.press('p');
  await expect(page).toHaveURL(/\/pricer\/KELPA/);
  await change('merro');
  await expect(page).toHaveURL(/\/pricer\/MERRO\?asOf=2031-03-12/);
  await expect(page.getByRole('heading', { name: 'MERRO' })).toBeVisible();
});

test('views keep to themselves what is their own, and stand as they were left', async ({ page }) => {
  await openPage(page, '/term/KELPA?asOf=2031-03-12T17:30:00%2B01:00&lines=wings');
  await expect(page).toHaveTitle('KELPA · Term · Umwelt');
  await page
    .getByRole('button', { name: 'Day theme' })
    .or(page.getByRole('button', { name: 'Night theme' }))
    .waitFor();
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/\/skew\/KELPA\?asOf=2031-03-12T17:30:00%2B01:00$/);
  await expect(page).toHaveTitle('KELPA · Skew · Umwelt');
  await page.getByRole('button', { name: 'ln K/F', exact: true }).click();
  await expect(page).toHaveURL(/axis=moneyness/);
  await page.keyboard.press('d');
  await expect(page).toHaveURL(/\/data$/);
  await page.keyboard.press('5');
  await expect(page).toHaveURL(/\/chain\/KELPA\?asOf=2031-03-12T17:30:00%2B01:00$/);
  await expect(page.getByRole('region', { name: 'Chain' }).getByRole('row')).not.toHaveCount(0);
  await page.getByRole('link', { name: 'Term 3' }).click();
  await expect(page.getByRole('button', { name: '25 delta' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('button', { name: 'realized', exact: true })).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'Symbol, name or date' }).fill('ske');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'ln K/F', exact: true })).toHaveAttribute('aria-pressed', 'true');
});

test('Term asks for no quotes, of itself or of what stands beside it, and explains one that a link asks for', async ({
  page,
}) => {
  const asked: string[] = [];
  page.on('request', (request) => asked.push(new URL(request.url()).pathname));
  await openPage(page, '/term/VM50?compare=KELPA,MERRO');
  await expect(page.getByTestId('compare-bar')).toContainText('MERRO');
  await expect(page.locator('[data-ready=true]').first()).toBeVisible();
  await expect
    .poll(() => asked.filter((path) => path.endsWith('/surface')).sort())
    .toEqual(['/api/v1/underlyings/KELPA/surface', '/api/v1/underlyings/MERRO/surface']);
  expect(asked.filter((path) => /\/(market|picture)$/.test(path))).toEqual([]);
  await page.keyboard.press('4');
  await expect(page.getByRole('figure', { name: /^Implied volatility by deviations/ })).toBeVisible();
  expect(asked.filter((path) => /\/(market|picture)$/.test(path))).toEqual(['/api/v1/underlyings/VM50/market']);
  await openPage(page, '/term/KELPA?workings=theory~2031-04-18~95~put');
  await expect(page.getByTestId('workings-value')).toHaveText(/^\d+\.\d+$/);
});

test('an instant or an expiry that is not there is said, with the way back', async ({ page }) => {
  await openPage(page, '/term/KELPA?asOf=2031-02-30T10:00:00Z&expiry=2031-04-19');
  const notes = page.getByTestId('context-notes');
  await expect(notes).toContainText('“2031-02-30T10:00:00Z” is no instant');
  await expect(notes).toContainText('KELPA has no expiry on 19 Apr; in focus is');
  await notes.getByRole('button', { name: 'show the latest' }).click();
  await expect(page).not.toHaveURL(/asOf/);
  await notes.getByRole('button', { name: 'forget that expiry' }).click();
  await expect(notes).toBeHidden();
  await openPage(page, '/chain/kelpa?asOf=1999-01-04T10:00:00Z');
  await expect(page).toHaveURL(/\/chain\/KELPA/);
  await expect(notes).toContainText('Nothing of KELPA is stored at or before 4 Jan 1999 10:00; shown is the first');
});

test('what was changed of a view is taken back and done again by keys, instants apart', async ({ page }) => {
  await openPage(page, '/chain/KELPA');
  const shown = page.getByRole('navigation', { name: 'Expiries' }).getByText(/of 13 shown/);
  await expect(shown).toHaveText('13 of 13 shown');
  await page.getByRole('button', { name: 'monthly' }).click();
  await expect(shown).not.toHaveText('13 of 13 shown');
  const monthly = (await shown.textContent()) ?? '';
  await page.getByRole('button', { name: 'none' }).click();
  await expect(shown).toHaveText('0 of 13 shown');
  await page.keyboard.press('{');
  await expect(page.locator('header time')).not.toContainText('14 Mar');
  const instant = await page.locator('header time').textContent();
  await page.keyboard.press('Control+z');
  await expect(shown).toHaveText(monthly);
  await expect(page.getByText('Taken back: expiries shown')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(shown).toHaveText('13 of 13 shown');
  await page.keyboard.press('Control+Shift+z');
  await expect(shown).toHaveText(monthly);
  expect(await page.locator('header time').textContent()).toBe(instant);
  // Columns of the ladder, too.
  await page.getByRole('button', { name: /^Columns of / }).click();
  await page.getByRole('dialog').getByRole('checkbox', { name: 'gamma' }).check();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('columnheader', { name: 'gamma' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('columnheader', { name: 'gamma' })).toHaveCount(0);
});

test('Workings by keyboard alone: focus goes in and comes back, Escape closes what lies on top', async ({ page }) => {
  await openPage(page, '/chain/VM50');
  const ladder = page.getByTestId('ladder');
  // Tab reaches the table once; from there arrows lead to the cell.
  await ladder.locator('tbody [tabindex="0"]').focus();
  const names = await ladder.locator('thead th').allTextContents();
  for (let i = 0; i < names.findIndex((name) => name.includes('theta')); i++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  const figure = page.locator(':focus');
  const id = (await figure.getAttribute('data-figure')) ?? '';
  expect(id).toMatch(/^theta~/);
  await page.keyboard.press('Enter');
  const drawer = page.getByRole('complementary', { name: 'Workings' });
  await expect(drawer).toBeFocused();
  // The closed form is told with the values on its way, and they are those of the figure.
  await expect(drawer).toContainText('d₂ = d₁ − σ √T');
  await page.keyboard.press('Tab');
  await expect(page.getByRole('button', { name: 'Close Workings' })).toBeFocused();
  await page.keyboard.press('/');
  await expect(page.getByRole('dialog', { name: 'Search' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Search' })).toHaveCount(0);
  await expect(drawer).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(drawer).toHaveCount(0);
  await expect(page.locator(`[data-figure="${id}"]`)).toBeFocused();
});

test('single keys can be switched off; search finds an underlying', async ({ page }) => {
  await openPage(page, '/term/VM50');
  await expect(page.locator('[data-ready=true]')).toBeVisible();
  await page.keyboard.press('?');
  await page.getByLabel('single keys on').uncheck();
  await page.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('5');
  await expect(page).toHaveURL(/\/term\//);
  await page.getByRole('button', { name: /^Search/ }).click();
  await page.getByRole('combobox', { name: 'Symbol, name or date' }).fill('tern');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'TERN' })).toBeVisible();
});

test('search by keyboard alone: the active row is announced, goes round, and Enter takes it', async ({ page }) => {
  await openPage(page, '/term/VM50');
  await page.keyboard.press('/');
  const box = page.getByRole('combobox', { name: 'Symbol, name or date' });
  await expect(box).toBeFocused();
  const active = async () => {
    const id = await box.getAttribute('aria-activedescendant');
    return page.locator(`[id="${id}"]`);
  };
  await page.keyboard.type('r');
  const options = page.getByRole('listbox').getByRole('option');
  const count = await options.count();
  expect(count).toBeGreaterThan(2);
  await page.keyboard.press('ArrowDown');
  await expect(await active()).toHaveAttribute('aria-selected', 'true');
  const second = (await (await active()).textContent())?.trim() ?? '';
  expect(second).toBe((await options.nth(1).textContent())?.trim());
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  expect(await (await active()).textContent()).toBe(await options.nth(count - 1).textContent());
  await box.fill('tern');
  await expect(await active()).toContainText('TERN');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'TERN' })).toBeVisible();
});
