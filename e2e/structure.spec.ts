import type { APIRequestContext, Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';
import { figure, number, shown } from './structure-figures.ts';

/* What would I put on, and how does it behave? Each task ends at numbers that the API gives too. */

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

interface Leg {
  expiry: string;
  strike: number;
  side: 'call' | 'put';
  quantity: number;
}
interface Evaluation {
  name: string;
  isReversed: boolean;
  cost: number;
  value: number;
  maxProfit: number | null;
  maxLoss: number | null;
  breakEvens: number[];
  probabilityOfProfit: number;
  greeks: { delta: number; gamma: number; theta: number; vega: number };
}
interface Quote {
  strike: number;
  side: 'call' | 'put';
  bid: number | null;
  ask: number | null;
  delta: number;
  gamma: number;
  theta: number;
  vega: number;
  theory: number;
}

async function evaluate(request: APIRequestContext, symbol: string, legs: Leg[], underlying = 0): Promise<Evaluation> {
  const all = legs.map((leg) => ({ kind: 'option', ...leg }));
  const held = underlying === 0 ? [] : [{ kind: 'underlying', quantity: underlying }];
  const response = await request.post('/api/v1/structures/evaluate', { data: { symbol, legs: [...all, ...held] } });
  expect(response.ok(), await response.text()).toBe(true);
  return (await response.json()) as Evaluation;
}
async function chain(request: APIRequestContext, symbol: string, expiry: string): Promise<Quote[]> {
  const response = await request.get(`/api/v1/underlyings/${symbol}/chain?expiry=${expiry}`);
  return ((await response.json()) as { quotes: Quote[] }).quotes;
}
const inAddress = (legs: Leg[]) => legs.map((l) => [l.quantity, l.expiry, l.strike, l.side].join('~')).join(',');
const chanceIn = (page: Page, day: string, points: number) =>
  page.locator(`[data-testid=structure-chances] tr[data-day="${day}"] td[data-points="${points}"]`);
const percent = (p: number) => `${100 * p < 5 || 100 * p > 95 ? (100 * p).toFixed(1) : (100 * p).toFixed(0)} %`;
const NEAR = '2031-04-18';
const LATER = '2031-06-20';

test('a butterfly around a level found on Range, then reversed', async ({ page }) => {
  // The level: the listed put next below the line.
  await openPage(page, `/range/VM50?level=4550&expiry=${NEAR}`);
  const there = page.getByTestId('nearest-strikes');
  await expect(there).toContainText('puts listed there');
  const less = there.getByRole('button', { name: /^Pick one .* less$/ }).first();
  const body = number((await less.getAttribute('aria-label'))?.match(/\d[\d\s\u202f]*/)?.[0] ?? '');
  await less.click();
  await expect(page.getByTestId('picked')).toContainText('−1');
  await less.click();
  await expect(page.getByTestId('picked')).toContainText('−2');
  // The wings on Chain, one strike away on either side.
  await page.getByRole('link', { name: /Chain/ }).click();
  const quotes = await chain(page.request, 'VM50', NEAR);
  const strikes = [...new Set(quotes.map((q) => q.strike))].sort((a, b) => a - b);
  const [low, high] = [strikes[strikes.indexOf(body) - 1], strikes[strikes.indexOf(body) + 1]];
  await page
    .getByRole('group', { name: /Sides|sides/ })
    .getByRole('button', { name: 'both sides' })
    .click();
  for (const strike of [low, high]) {
    const name = strike.toFixed(0).replace(/\B(?=(\d{3})+(?!\d))/, '\u202f');
    await page.getByRole('button', { name: `Pick ${name} put`, exact: true }).click();
    await expect(page).toHaveURL(new RegExp(`1~${NEAR}~${strike}~put`));
  }
  await page.keyboard.press('7');
  await expect(page.getByTestId('structure-name')).toHaveText('butterfly');
  const legs: Leg[] = [
    { expiry: NEAR, strike: low, side: 'put', quantity: 1 },
    { expiry: NEAR, strike: body, side: 'put', quantity: -2 },
    { expiry: NEAR, strike: high, side: 'put', quantity: 1 },
  ];
  const one = await evaluate(page.request, 'VM50', legs);
  expect(one).toMatchObject({ name: 'butterfly', isReversed: false });
  await expect.poll(() => shown(page, 'cost')).toBeCloseTo(one.cost, 1);
  expect(await shown(page, 'most')).toBeCloseTo(one.maxProfit ?? NaN, 1);
  expect(await shown(page, 'lost')).toBeCloseTo(one.maxLoss ?? NaN, 1);
  await expect(chanceIn(page, 'Infinity', 0)).toHaveText(percent(one.probabilityOfProfit));
  await page.getByRole('button', { name: 'reverse' }).click();
  await expect(page.getByTestId('structure-name')).toHaveText('reversed butterfly');
  expect(await shown(page, 'most')).toBeCloseTo(one.maxLoss ?? NaN, 1);
  expect(await shown(page, 'lost')).toBeCloseTo(one.maxProfit ?? NaN, 1);
  await expect(chanceIn(page, 'Infinity', 0)).toHaveText(percent(1 - one.probabilityOfProfit));
  await expect(page.locator('dt', { hasText: 'brings in' })).toBeVisible();
  // It is undone like any change.
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('structure-name')).toHaveText('butterfly');
});

test('calendar: chance of profit at the first expiry, ten days from now, and with volatility two points up or down', async ({
  page,
}) => {
  const legs: Leg[] = [
    { expiry: NEAR, strike: 4700, side: 'put', quantity: -1 },
    { expiry: LATER, strike: 4700, side: 'put', quantity: 1 },
  ];
  await openPage(page, `/structure/VM50?legs=${inAddress(legs)}&day=10`);
  await expect(page.getByTestId('structure-name')).toHaveText('calendar');
  const told = await evaluate(page.request, 'VM50', legs);
  await expect(chanceIn(page, 'Infinity', 0)).toHaveText(percent(told.probabilityOfProfit));
  const chances = async (day: string) => {
    const texts = await Promise.all([-2, 0, 2].map((points) => chanceIn(page, day, points).textContent()));
    return texts.map((t) => Number(t?.replace(' %', '')));
  };
  const [lower, still, higher] = await chances('Infinity');
  // The later leg is what is left: a calendar gains as volatility rises, and its break-evens widen.
  expect(lower).toBeLessThan(still);
  expect(higher).toBeGreaterThan(still);
  const soon = await chances('10');
  expect(soon[0]).toBeLessThan(soon[1]);
  expect(soon[2]).toBeGreaterThan(soon[1]);
  const width = async () => {
    const [from, to] = ((await page.getByTestId('break-evens').textContent()) ?? '').split('·').map(number);
    return to - from;
  };
  const before = await width();
  expect(before).toBeCloseTo(told.breakEvens[1] - told.breakEvens[0], 0);
  await page.getByLabel('Points on every volatility').fill('2');
  await page.getByLabel('Points on every volatility').press('Enter');
  await expect(page).toHaveURL(/shift=2/);
  expect(await width()).toBeGreaterThan(before);
  expect((await chances('Infinity'))[1]).toBe(higher);
  // The day under the hand moves the line and the table.
  const slider = page.getByLabel('Day that is looked at, days from now');
  await slider.focus();
  await slider.press('ArrowRight');
  await expect(page).toHaveURL(/day=11/);
  await expect(page.locator('[data-testid=structure-chances] tr[data-day="11"]')).toBeVisible();
  // Lines of equal profit, the one of none among them; the day is dragged there too.
  await expect(page.locator('[data-testid=structure-map] path[data-value="0"]')).toHaveCount(1);
  const box = await slider.boundingBox();
  if (!box) throw new Error('no line');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2 + 40, { steps: 5 });
  await page.mouse.up();
  expect(Number(await slider.getAttribute('aria-valuenow'))).toBeGreaterThan(15);
  // Every source of odds has its own chance; the smile's is the one above.
  await page.getByRole('button', { name: 'chance by source' }).click();
  const sources = page.getByTestId('chance-by-source');
  await expect(sources.locator('tr[data-key=smile] td[data-column=chance]')).toHaveText(`${higher} %`);
  for (const source of ['atm', 'index', 'realized', 'history'])
    await expect(sources.locator(`tr[data-key=${source}] td[data-column=chance]`)).toContainText('%');
});

test('ratio spread: buy one near 40 delta, sell two near 12, then flatten half the delta with the underlying', async ({
  page,
}) => {
  const quotes = (await chain(page.request, 'VM50', NEAR)).filter((q) => q.side === 'put' && q.bid && q.ask);
  const nearest = (delta: number) =>
    quotes.reduce((best, q) => (Math.abs(q.delta + delta) < Math.abs(best.delta + delta) ? q : best));
  const [bought, sold] = [nearest(0.4), nearest(0.12)];
  const legs: Leg[] = [
    { expiry: NEAR, strike: bought.strike, side: 'put', quantity: 1 },
    { expiry: NEAR, strike: sold.strike, side: 'put', quantity: -2 },
  ];
  await openPage(page, `/structure/VM50?legs=${inAddress(legs)}&expiry=${NEAR}`);
  await expect(page.getByTestId('structure-name')).toHaveText('ratio spread');
  const one = await evaluate(page.request, 'VM50', legs);
  await expect.poll(() => shown(page, 'delta')).toBeCloseTo(one.greeks.delta, 0);
  // The skew pays for it: what is owed stands higher on the smile than what is held.
  expect(await shown(page, 'skew')).toBeLessThan(0);
  await expect(page.getByRole('region', { name: 'Reading' })).toContainText('are paid for skew');
  const { multiplier } = (await (await page.request.get('/api/v1/underlyings/VM50')).json()) as { multiplier: number };
  const half = -one.greeks.delta / 2 / multiplier;
  await page.getByLabel("Underlying held, in contracts' worth").fill(half.toFixed(4));
  await page.getByLabel("Underlying held, in contracts' worth").press('Enter');
  await expect.poll(() => shown(page, 'delta')).toBeCloseTo(one.greeks.delta / 2, 0);
  const flattened = await evaluate(page.request, 'VM50', legs, Number(half.toFixed(4)));
  expect(flattened.greeks.delta).toBeCloseTo(one.greeks.delta / 2, 1);
  await expect(page.getByTestId('structure-name')).toHaveText('custom');
  // Each leg stands so far over the fit, in points by its vega.
  const own = quotes.find((q) => q.strike === sold.strike);
  const over = page.locator(`[data-leg="${NEAR} ${sold.strike} put"] [data-gap]`);
  const mid = 0.5 * ((own?.bid ?? NaN) + (own?.ask ?? NaN));
  expect(number(await over.textContent())).toBeCloseTo((mid - (own?.theory ?? NaN)) / (own?.vega ?? NaN), 1);
  // A strike is stepped by keys, and its mid taken anew.
  const row = page.locator(`[data-leg="${NEAR} ${sold.strike} put"]`);
  await row.getByRole('button', { name: /^Strike/ }).press('ArrowDown');
  await expect(row).toHaveCount(0);
  await expect(page).not.toHaveURL(new RegExp(`-2~${NEAR}~${sold.strike}~put`));
});

test('neutralize gamma and vega with two options and delta with the underlying, step by step', async ({ page }) => {
  const legs: Leg[] = [{ expiry: NEAR, strike: 4600, side: 'put', quantity: -10 }];
  const options = [
    { expiry: '2031-05-16', strike: 4700, side: 'put' as const },
    { expiry: LATER, strike: 4900, side: 'call' as const },
  ];
  const by = options.map((o) => [o.expiry, o.strike, o.side].join('~')).join(',');
  await openPage(
    page,
    `/structure/VM50?legs=${inAddress(legs)}&panel=neutralize&sums=delta,gamma,vega&by=${by}&whole=no`,
  );
  const { multiplier } = (await (await page.request.get('/api/v1/underlyings/VM50')).json()) as { multiplier: number };
  const one = await evaluate(page.request, 'VM50', legs);
  const instruments = await Promise.all(
    options.map(async ({ expiry, strike, side }, i) => {
      const quote = (await chain(page.request, 'VM50', expiry)).find((q) => q.strike === strike && q.side === side);
      if (!quote) throw new Error(`${strike}`);
      const { delta, gamma, vega } = quote;
      return { name: String(i), delta: delta * multiplier, gamma: gamma * multiplier, vega: vega * multiplier };
    }),
  );
  const { delta, gamma, vega } = one.greeks;
  const solved = await page.request.post('/api/v1/hedges/solve', {
    data: { position: { delta, gamma, vega }, instruments, neutralize: ['delta', 'gamma', 'vega'] },
  });
  const { trades, steps } = (await solved.json()) as {
    trades: { quantity: number }[];
    steps: { delta: number; gamma: number; vega: number }[];
  };
  const rows = page.getByTestId('hedge-steps').locator('tbody tr');
  await expect(rows).toHaveCount(4);
  for (const [i, step] of steps.entries()) {
    const row = rows.nth(i);
    if (i > 0) expect(number(await row.locator('[data-trade]').textContent())).toBeCloseTo(trades[i - 1].quantity, 1);
    for (const name of ['delta', 'gamma', 'vega'] as const)
      expect(number(await row.locator(`[data-sum=${name}]`).textContent()), `${i} ${name}`).toBeCloseTo(step[name], 1);
  }
  for (const name of ['delta', 'gamma', 'vega'])
    await expect(rows.nth(3).locator(`[data-sum=${name}]`)).toHaveText('0.00');
  // In whole contracts, taken over as legs: what remains is less than one contract moves.
  await page.getByLabel('whole contracts').check();
  // Before and after stand beside each other, each trade with its premium and half its width; what is left, or grows, is said.
  const whole = await page.request.post('/api/v1/hedges/solve', {
    data: {
      position: { delta, gamma, vega },
      instruments,
      neutralize: ['delta', 'gamma', 'vega'],
      wholeContracts: true,
    },
  });
  const traded = (await whole.json()) as { trades: { quantity: number }[]; steps: Record<'vega', number>[] };
  const quote = (await chain(page.request, 'VM50', options[0].expiry)).find(
    (q) => q.strike === options[0].strike && q.side === options[0].side,
  );
  const [bid, ask] = [quote?.bid ?? NaN, quote?.ask ?? NaN];
  const { quantity } = traded.trades[0];
  await expect.poll(async () => number(await rows.nth(1).locator('[data-trade]').textContent())).toBe(quantity);
  expect(number(await rows.nth(1).locator('[data-premium]').textContent())).toBeCloseTo(
    quantity * 0.5 * (bid + ask) * multiplier,
    1,
  );
  expect(number(await rows.nth(1).locator('[data-half-width]').textContent())).toBeCloseTo(
    Math.abs(quantity) * 0.5 * (ask - bid) * multiplier,
    1,
  );
  const rest = traded.steps[traded.steps.length - 1].vega;
  const said = page.getByTestId(Math.abs(rest) > Math.abs(vega) ? 'hedge-grown' : 'hedge-left');
  await expect(said).toContainText('vega');
  await expect(page.getByTestId('hedge-steps').locator('[data-step=before]')).toBeVisible();
  await page.getByRole('button', { name: 'add these trades to the legs' }).click();
  await expect.poll(() => shown(page, 'gamma')).toBeCloseTo(0, 1);
  expect(Math.abs(await shown(page, 'delta'))).toBeLessThanOrEqual(1);
  expect(Math.abs(await shown(page, 'vega'))).toBeLessThan(Math.abs(instruments[0].vega));
});

test('flatten what is held elsewhere by two options of typed Greeks: the published hedge, sum by sum (Alexander 2008)', async ({
  page,
}) => {
  // C. Alexander, Market Risk Analysis, vol. III, Wiley 2008: a position of delta -300, gamma -100, vega -80; from memory of it.
  await openPage(page, '/structure/VM50?panel=neutralize&sums=delta,gamma,vega');
  await page.getByRole('button', { name: 'type sums or Greeks…' }).click();
  const type = async (label: string, text: string) => {
    const field = page.getByLabel(label, { exact: true });
    await field.fill(text);
    await field.press('Enter');
  };
  for (const [greek, sum] of Object.entries({ delta: '-300', gamma: '-100', vega: '-80' }))
    await type(`${greek} of what is held elsewhere`, sum);
  const options = {
    first: { delta: '0.2', gamma: '0.1', vega: '0.1' },
    second: { delta: '-0.8', gamma: '0.3', vega: '0.2' },
  };
  for (const [i, [name, greeks]] of Object.entries(options).entries()) {
    await page.getByRole('button', { name: 'allow an option by its Greeks' }).click();
    await type(`Name of typed option ${i + 1}`, name);
    await expect(page.getByText(`Type delta of ${name}, gamma of ${name}, vega of ${name}.`)).toBeVisible();
    for (const [greek, text] of Object.entries(greeks)) await type(`${greek} of ${name}`, text);
  }
  const told = page.getByTestId('hedge-steps').locator('tbody tr');
  const cells = (row: number) => told.nth(row).locator('td');
  for (const [row, texts] of [
    ['now', '', '', '', '−300.00', '−100.00', '–', '−80.00', '–', '–'],
    ['first', '+400', '–', '–', '−220.00', '−60.00', '–', '−40.00', '–', '–'],
    ['second', '+200', '–', '–', '−380.00', '0.00', '–', '0.00', '–', '–'],
    ['underlying', '+380', /^1\D?\d{3}\D?\d{3}/, '–', '0.00', '0.00', '–', '0.00', '–', '–'],
  ].entries())
    await expect(cells(row)).toHaveText(texts);
  // All of it is in the address; what is emptied is not known again.
  await page.reload();
  await expect(told).toHaveCount(4);
  await type('vega of second', '');
  await expect(page.getByText('Type vega of second.')).toBeVisible();
  await page.getByRole('button', { name: 'Allow first no longer' }).click();
  await type('vega of second', '0.2');
  await expect(page.getByText('These options cannot bring all of these sums to nothing')).toBeVisible();
});

test("compare the thin fund's listed spread with the fit: from the table to its legs, the same theory", async ({
  page,
}) => {
  const { spreads } = (await (await page.request.get('/api/v1/underlyings/VFUND/spreads')).json()) as {
    spreads: {
      legs: { expiry: string; strike: number; side: 'call' | 'put'; ratio: number }[];
      bid: number;
      ask: number;
    }[];
  };
  expect(spreads.length).toBeGreaterThan(0);
  await openPage(page, '/chain/VFUND?table=spreads');
  const row = page.locator('tbody tr').first();
  await expect(row).toBeVisible();
  await row.getByRole('link', { name: /in Structure$/ }).click();
  await expect(page).toHaveURL(/\/structure\/VFUND\?.*legs=/);
  const legs = decodeURIComponent(new URL(page.url()).searchParams.get('legs') ?? '')
    .split(',')
    .map((text): Leg => {
      const [quantity, expiry, strike, side] = text.split('~');
      return { quantity: Number(quantity), expiry, strike: Number(strike), side: side as 'call' | 'put' };
    });
  const same = spreads.find((s) =>
    s.legs.every((l) => legs.some((o) => o.strike === l.strike && o.expiry === l.expiry)),
  );
  expect(same).toBeDefined();
  const one = await evaluate(page.request, 'VFUND', legs);
  const { multiplier } = (await (await page.request.get('/api/v1/underlyings/VFUND')).json()) as { multiplier: number };
  await expect.poll(() => shown(page, 'value')).toBeCloseTo(one.value, 1);
  // Where the fit stands against the market of the spread as it is listed.
  const perUnit = one.value / multiplier;
  const gap = perUnit < (same?.bid ?? NaN) ? 'dear' : perUnit > (same?.ask ?? NaN) ? 'cheap' : 'inside';
  await page.goBack();
  await expect(row).toContainText(gap);
});

test('look at any measure on a day, at a price, under another volatility, tilt and rate; every figure has its Workings', async ({
  page,
}) => {
  const legs: Leg[] = [
    { expiry: NEAR, strike: 4700, side: 'put', quantity: -1 },
    { expiry: LATER, strike: 4700, side: 'put', quantity: 1 },
  ];
  await openPage(page, `/structure/VM50?legs=${inAddress(legs)}&day=10`);
  const told = await evaluate(page.request, 'VM50', legs);
  const looked = (measure: string, column: number) =>
    page.locator(`[data-testid=looked-at] tr[data-measure=${measure}] td`).nth(column);
  // Now, at the price as it is, they are the sums of theory.
  const now = async (measure: string) => number(await looked(measure, 0).textContent());
  expect(await now('value')).toBeCloseTo(told.value, 1);
  expect(await now('delta')).toBeCloseTo(told.greeks.delta, 1);
  expect(await now('theta')).toBeCloseTo(told.greeks.theta, 0);
  expect(await now('vega')).toBeCloseTo(told.greeks.vega, 0);
  // One point of volatility up brings its vega; the rate its rho.
  const vega = await now('vega');
  const profit = await now('profit');
  await page.getByLabel('Points on every volatility').fill('1');
  await page.getByLabel('Points on every volatility').press('Enter');
  await expect(page).toHaveURL(/shift=1/);
  expect(Math.abs((await now('profit')) - profit - vega)).toBeLessThan(2);
  await page.getByRole('button', { name: 'as it is' }).click();
  await expect(page).not.toHaveURL(/shift/);
  // A tilt lifts what is below the forward: at the forward it does next to nothing, and more the lower the strike.
  const tilt = page.getByLabel('Points of volatility more for a strike a tenth below its forward');
  await tilt.fill('2');
  await tilt.press('Enter');
  await expect.poll(() => now('profit')).toBeGreaterThan(profit);
  await page.getByRole('button', { name: 'as it is' }).click();
  // The price by key and by hand; all follows.
  const slider = page.getByRole('slider', { name: 'Price that is looked at' });
  await slider.focus();
  await slider.press('ArrowLeft');
  await expect(page).toHaveURL(/at=\d/);
  const box = await slider.boundingBox();
  if (!box) throw new Error('no handle');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height - 8);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 80, box.y + box.height - 8, { steps: 4 });
  await page.mouse.up();
  expect(Number(await slider.getAttribute('aria-valuenow'))).toBeLessThan(4760);
  await page.getByLabel('Price that is looked at, typed').fill('4700');
  await page.getByLabel('Price that is looked at, typed').press('Enter');
  // At its strike, at the end, a calendar is at its most.
  await expect.poll(async () => number(await looked('profit', 2).textContent())).toBeCloseTo(told.maxProfit ?? NaN, 1);
  // What it is taken at, and of how much the figures are.
  await page.getByLabel('What legs are taken at').selectOption('theory');
  await expect.poll(() => shown(page, 'cost')).toBeCloseTo(told.value, 1);
  await expect(figure(page, 'gap')).toHaveText(/^[−-]?0(\.00)?$/);
  await page.getByLabel('What legs are taken at').selectOption('market');
  await expect.poll(async () => (await shown(page, 'cost')) === (await shown(page, 'crossing'))).toBe(true);
  expect(await shown(page, 'cost')).toBeGreaterThan(told.cost);
  await page.getByLabel('What legs are taken at').selectOption('mid');
  const { multiplier } = (await (await page.request.get('/api/v1/underlyings/VM50')).json()) as { multiplier: number };
  await page.getByLabel('What figures and charts are of').selectOption('share');
  await expect.poll(() => shown(page, 'cost')).toBeCloseTo(told.cost / multiplier, 1);
  await page.getByLabel('What figures and charts are of').selectOption('position');
  // Another measure in both charts; by volatility down the lower one.
  await page.getByLabel('Measure', { exact: true }).selectOption('vega');
  await expect(page.getByTestId('profile')).toContainText('vega a point');
  await page.getByRole('button', { name: 'by volatility' }).click();
  await expect(page.getByTestId('structure-map')).toContainText('vega a point, XTS, by price and volatility');
  await page.getByRole('slider', { name: 'Points on every volatility, dragged' }).press('ArrowDown');
  await expect(page).toHaveURL(/shift=-0.5/);
  await page.getByRole('button', { name: 'as it is' }).click();
  // Workings: what is shown is what is told, with the legs that it comes from.
  await figure(page, 'cost').click();
  const drawer = page.getByRole('complementary', { name: /Workings/ });
  await expect(drawer).toContainText('Σ q p');
  await expect(drawer).toContainText('4\u202f700 put');
  await page.keyboard.press('Escape');
  const ids = await page
    .getByTestId('structure-figures')
    .locator('[data-figure]')
    .evaluateAll((buttons) => buttons.map((b) => b.getAttribute('data-figure') ?? ''));
  expect(ids.length).toBeGreaterThan(18);
  for (const id of ids) {
    await page.getByTestId('structure-figures').locator(`[data-figure="${id}"]`).click();
    await expect(drawer).toContainText(/Common practice|own definition|Breeden/i);
    await page.keyboard.press('Escape');
    await expect(drawer).toHaveCount(0);
  }
});

test('how likely a profit or a loss is reached on the way, and what a day brings at three volatilities', async ({
  page,
}) => {
  // Near the strike at the end, the closed form says what touching it takes: a bought call of little time is its price.
  const legs: Leg[] = [
    { expiry: NEAR, strike: 4500, side: 'put', quantity: -1 },
    { expiry: NEAR, strike: 4400, side: 'put', quantity: 1 },
  ];
  await openPage(page, `/structure/VM50?legs=${inAddress(legs)}&panel=reach`);
  const told = await evaluate(page.request, 'VM50', legs);
  const cell = (id: string) => page.locator(`[data-testid=reach] tr[data-reach=${id}] td`).first();
  await expect(cell('target')).toContainText('%');
  const percentOf = async (id: string) => Number((await cell(id).textContent())?.replace(' %', ''));
  expect(number(await page.getByLabel('Profit that is waited for').inputValue())).toBeCloseTo(
    (told.maxProfit ?? NaN) / 2,
    1,
  );
  // To have half of the profit on the way is likelier than to end with all of it, and the parts are the whole.
  const [target, first, second, neither] = [
    await percentOf('target'),
    await percentOf('targetFirst'),
    await percentOf('limitFirst'),
    await percentOf('neither'),
  ];
  expect(target).toBeGreaterThan(100 * told.probabilityOfProfit - 3);
  expect(Math.abs(first + second + neither - 100)).toBeLessThanOrEqual(2);
  expect(first).toBeLessThanOrEqual(target);
  // Less is waited for: likelier. Nothing is waited for: certain, and said.
  const typed = page.getByLabel('Profit that is waited for');
  await typed.fill('20');
  await typed.press('Enter');
  await expect.poll(() => percentOf('target')).toBeGreaterThan(target);
  await typed.fill('-500');
  await typed.press('Enter');
  await expect(page.getByText('that is reached already')).toBeVisible();
  await expect(cell('target')).toHaveText('100.0 %');
  await page.getByRole('button', { name: 'decay' }).click();
  const chart = page.getByTestId('decay');
  await expect(chart.locator('[data-ready=true]')).toBeVisible();
  await expect(chart).toContainText('+2 points');
});

test('the Shelf: keep, name, price anew at another instant, draw beside, leave as a file and come back', async ({
  page,
  request,
}) => {
  const legs: Leg[] = [
    { expiry: NEAR, strike: 4400, side: 'put', quantity: 1 },
    { expiry: NEAR, strike: 4500, side: 'put', quantity: -1 },
    { expiry: NEAR, strike: 5000, side: 'call', quantity: -1 },
    { expiry: NEAR, strike: 5100, side: 'call', quantity: 1 },
  ];
  await openPage(page, `/structure/VM50?legs=${inAddress(legs)}&panel=shelf`);
  await page.getByLabel('Name of what is kept').fill('Wide one');
  await page.getByLabel('Tags of what is kept').fill('income, april');
  await page.getByRole('button', { name: 'keep', exact: true }).click();
  const row = page.getByTestId('shelf').locator('tbody tr', { hasText: 'Wide one' });
  const cell = (column: string) => row.locator(`td[data-column=${column}]`);
  await expect(row).toBeVisible();
  const told = await evaluate(page.request, 'VM50', legs);
  await expect(cell('structure')).toHaveText('iron condor');
  await expect.poll(async () => number(await cell('value').textContent())).toBeCloseTo(told.value, 1);
  expect(number(await cell('cost').textContent())).toBeCloseTo(told.cost, 1);
  await expect(cell('tags')).toHaveText('income, april');
  await row.getByRole('button', { name: 'Rename Wide one' }).click();
  // Somebody else names it before: nothing is overwritten unseen, and both names are offered.
  const { structures } = (await (await request.get('/api/v1/structures/kept')).json()) as {
    structures: { id: string; name: string }[];
  };
  const theirs = { name: 'Theirs', tags: ['april'] };
  const id = structures.find((k) => k.name === 'Wide one')?.id;
  expect((await request.put(`/api/v1/structures/kept/${id}`, { data: theirs })).ok()).toBe(true);
  await page.getByLabel('Its new name').fill('Wider one');
  await page.getByRole('button', { name: 'save' }).click();
  await expect(page.getByRole('alert')).toContainText('it is called “Theirs”, tags april now');
  await expect(page.getByTestId('shelf')).toContainText('Theirs');
  await page.getByRole('button', { name: 'call it “Wider one” all the same' }).click();
  await expect(page.getByRole('alert')).toHaveCount(0);
  const renamed = page.getByTestId('shelf').locator('tbody tr', { hasText: 'Wider one' });
  await expect(renamed).toBeVisible();
  // Another structure, the kept one beside it: one chart, one table.
  const other: Leg[] = [
    { expiry: NEAR, strike: 4600, side: 'put', quantity: 1 },
    { expiry: NEAR, strike: 4500, side: 'put', quantity: -1 },
  ];
  await openPage(page, `/structure/VM50?legs=${inAddress(other)}&panel=compare`);
  await page.getByLabel('Compare with a kept structure').selectOption({ label: 'Wider one' });
  await expect(page.locator('[data-testid=profile] path[data-line="with 0"]')).toHaveCount(1);
  const compared = (id: string, column: number) =>
    page.locator(`[data-testid=compared] tr[data-compared="structure~${id}"] td`).nth(column);
  const second = await evaluate(page.request, 'VM50', other);
  expect(number(await compared('cost', 0).textContent())).toBeCloseTo(second.cost, 1);
  expect(number(await compared('cost', 1).textContent())).toBeCloseTo(told.cost, 1);
  expect(number(await compared('lost', 1).textContent())).toBeCloseTo(told.maxLoss ?? NaN, 1);
  // Deleted and put back; as a file out and in again.
  await page.getByRole('button', { name: 'Shelf' }).click();
  const csv = await (await page.request.get('/api/v1/structures/kept?format=csv')).text();
  expect(csv).toContain('Wider one');
  await renamed.getByRole('button', { name: 'Delete Wider one' }).click();
  await expect(renamed).toHaveCount(0);
  await page.getByRole('button', { name: 'put back' }).click();
  await expect(renamed).toHaveCount(1);
  await renamed.getByRole('button', { name: 'Delete Wider one' }).click();
  await expect(renamed).toHaveCount(0);
  const file = page.getByLabel('File of kept structures, CSV or JSON');
  await file.setInputFiles({
    name: 'shelf.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(csv.replace('4400', '44x')),
  });
  await expect(page.getByRole('alert')).toContainText('row 1');
  await file.setInputFiles({ name: 'shelf.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await expect(renamed).toHaveCount(1);
  // Opened at the instant that it was kept at.
  await renamed.getByRole('link', { name: /at the instant that it was kept/ }).click();
  await expect(page).toHaveURL(/asOf=2031-03-14/);
  await expect(page.getByTestId('structure-name')).toHaveText('iron condor');
  await expect.poll(() => shown(page, 'value')).toBeCloseTo(told.value, 1);
});
