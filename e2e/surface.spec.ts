import type { Page } from '@playwright/test';
import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

/* Questions that one asks of a surface, each answered on the screen by numbers that the API's own numbers confirm. */

test.beforeEach(async ({ page }) => {
  page.on('pageerror', (error) => {
    throw error;
  });
});

const number = (text: string | null) => Number((text ?? '').replace(/[\s\u202f%]/g, '').replace('−', '-'));
const reading = (page: Page) => page.getByRole('region', { name: 'Reading' });

interface Expiry {
  date: string;
  days: number;
  years: number;
  forward: number;
  discountFactor: number;
  atm: number;
  outlier: { expected: number } | null;
  smile: { model: string; parameters: { a: number; b: number; rho: number; m: number; sigma: number } };
}

/** Volatility of raw SVI at a strike, written out here. */
function sviVolatility(e: Expiry, strike: number): number {
  const { a, b, rho, m, sigma } = e.smile.parameters;
  const d = Math.log(strike / e.forward) - m;
  return Math.sqrt((a + b * (rho * d + Math.hypot(d, sigma))) / e.years);
}

test('find the expiry that spoils the picture: it is left out with its reason, can be shown and taken out again', async ({
  page,
  request,
}) => {
  const { expiries } = (await (await request.get('/api/v1/underlyings/SKALD/skew')).json()) as { expiries: Expiry[] };
  const wrong = expiries.filter((e) => e.outlier !== null);
  expect(wrong.map((e) => e.date)).toEqual(['2031-05-16']);
  await openPage(page, '/skew/SKALD?expiries=all');
  const ribbon = page.getByRole('navigation', { name: 'Expiries' });
  await expect(ribbon).toContainText(`${expiries.length - 1} of ${expiries.length} shown`);
  await expect(reading(page)).toContainText('16 May is out of line');
  await expect(reading(page)).toContainText(`${((wrong[0].outlier?.expected ?? 0) * 100).toFixed(1)} %`);
  // Its quotes are those of another expiry: total variance would be far above that of the one behind it.
  const next = expiries.find((e) => e.days > wrong[0].days);
  expect(wrong[0].atm ** 2 * wrong[0].years).toBeGreaterThan((next?.atm ?? 0) ** 2 * (next?.years ?? 0));
  await reading(page).getByRole('button', { name: 'Show it.' }).click();
  await expect(ribbon).toContainText(`${expiries.length} of ${expiries.length} shown`);
  // One click focuses it on the way in, the next takes it out.
  await ribbon.getByRole('button', { name: /^16 May/ }).click();
  await expect(ribbon).toContainText(`${expiries.length - 1} of ${expiries.length} shown`);
  await expect(page).toHaveURL(/expiries=all/);
});

test('compare a put and a call 10 % away, by strikes and by delta too', async ({ page, request }) => {
  const { expiries } = (await (await request.get('/api/v1/underlyings/VM50/skew')).json()) as { expiries: Expiry[] };
  await openPage(page, '/skew/VM50?expiry=2031-06-20');
  await page.getByRole('button', { name: 'same distance' }).click();
  await expect(page).toHaveURL(/skew=distance/);
  const table = page.getByTestId('same-distance');
  const cells = await table
    .locator('tbody tr')
    .filter({ has: page.locator('td:first-child', { hasText: /^10$/ }) })
    .locator('td')
    .allTextContents();
  const [, putStrike, putVolatility, put, call, callVolatility, callStrike, ratio, difference, points] =
    cells.map(number);
  const june = expiries.find((e) => e.date === '2031-06-20');
  if (!june) throw new Error('no June expiry');
  expect(putStrike).toBeCloseTo(0.9 * june.forward, 1);
  expect(callStrike).toBeCloseTo(1.1 * june.forward, 1);
  expect(putVolatility).toBeCloseTo(100 * sviVolatility(june, 0.9 * june.forward), 1);
  expect(callVolatility).toBeCloseTo(100 * sviVolatility(june, 1.1 * june.forward), 1);
  expect(putVolatility - callVolatility).toBeCloseTo(points, 0);
  expect(points).toBeGreaterThan(3);
  expect(ratio).toBeCloseTo(put / call, 0);
  expect(difference).toBeCloseTo(put - call, 0);
  await page.getByRole('button', { name: 'delta', exact: true }).click();
  const quarter = table.locator('tbody tr').filter({ has: page.locator('td:first-child', { hasText: /^25$/ }) });
  const [, strike25] = (await quarter.locator('td').allTextContents()).map(number);
  expect(strike25).toBeLessThan(june.forward);
  await page.getByRole('button', { name: 'strikes away' }).click();
  await expect(table.locator('tbody tr').first().locator('td').first()).toHaveText('1');
});

test("see when within the year the currency pair's skew changed side", async ({ page, request }) => {
  interface Session {
    instant: string;
    riskReversal25: number;
  }
  const { sessions } = (await (await request.get('/api/v1/underlyings/TERN/skew-history')).json()) as {
    sessions: Session[];
  };
  expect(sessions.length).toBeGreaterThan(200);
  expect(sessions[0].riskReversal25).toBeLessThan(-0.002);
  expect(sessions[sessions.length - 1].riskReversal25).toBeGreaterThan(0.002);
  await openPage(page, '/skew/TERN');
  await page.getByRole('button', { name: 'past year' }).click();
  const text = page.getByTestId('skew-year');
  await expect(text).toContainText('dearer side changed');
  await expect(text).toContainText('to calls');
  // The day that is named lies between the last session clearly on the old side and the first clearly on the new.
  const named = /changed (?:.*, )?(\d+ \w+(?: \d+)?) to calls/.exec((await text.textContent()) ?? '')?.[1] ?? '';
  const lastPut = sessions.findLastIndex((s) => s.riskReversal25 < -0.002);
  const [year, month, day] = sessions[sessions.findIndex((s, i) => i > lastPut && s.riskReversal25 > 0.002)].instant
    .slice(0, 10)
    .split('-')
    .map(Number);
  const words = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][month - 1];
  expect(named.startsWith(`${day} ${words}`), `${named} against ${year}-${month}-${day}`).toBe(true);
});

test('how much of the front expiry is the event?', async ({ page, request }) => {
  interface Term {
    events: { label: string; instant: string; implied: { move: number; interval: [number, number] } | null }[];
  }
  const { events } = (await (await request.get('/api/v1/underlyings/MERRO/term')).json()) as Term;
  const readout = events.find((e) => e.label === 'Trial readout');
  if (!readout?.implied) throw new Error('the readout is not identified');
  const { move, interval } = readout.implied;
  expect(interval[0]).toBeLessThan(move);
  expect(interval[1]).toBeGreaterThan(move);
  await openPage(page, '/term/MERRO');
  const row = (date: string) => page.locator('tbody tr').filter({ hasText: new RegExp(`^${date}`) });
  const cells = (await row('28 Mar').locator('td').allTextContents()).map(number);
  const [, , , , , atTheMoney] = cells;
  const without = cells[9];
  await expect(reading(page)).toContainText(`±${(move * 100).toFixed(1)} %`);
  const [, points, of] =
    /accounts for ([\d.]+) of the ([\d.]+)\spoints of 28 Mar/.exec((await reading(page).textContent()) ?? '') ?? [];
  expect(Number(of)).toBe(atTheMoney);
  // Each of the three is rounded to a tenth.
  expect(Math.abs(Number(points) - (atTheMoney - without))).toBeLessThan(0.11);
  // The two expiries around it alone, with a flat course between, give about the same move (common practice, no source).
  const before = (await row('21 Mar').locator('td').allTextContents()).map(number);
  const variance = ((atTheMoney / 100) ** 2 * cells[1] - (before[5] / 100) ** 2 * cells[1]) / 365;
  expect(Math.abs(Math.sqrt(variance) - move)).toBeLessThan(0.01);
  await page.locator('[data-figure^="eventMove~"]').click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toContainText('Dubinsky');
});

test('a pointer on a chart reads every line there as it is written everywhere; a zoom by hand is said and let go', async ({
  page,
  request,
}) => {
  const { expiries } = (await (await request.get('/api/v1/underlyings/VM50/skew')).json()) as { expiries: Expiry[] };
  await openPage(page, '/skew/VM50?expiries=2031-04-18,2031-06-20&axis=moneyness');
  const plot = page.locator('.plot[data-ready=true]');
  await expect(plot).toBeVisible();
  // Where the forward is each line has its level at the money.
  const at = async (x: number) =>
    plot.evaluate((node, value) => {
      const { xaxis } = (node as unknown as { _fullLayout: { xaxis: { _offset: number; l2p: (x: number) => number } } })
        ._fullLayout;
      return node.getBoundingClientRect().left + xaxis._offset + xaxis.l2p(value);
    }, x);
  const box = await plot.boundingBox();
  if (!box) throw new Error('not drawn');
  await page.mouse.move(await at(0), box.y + 200);
  const read = page.getByTestId('readout');
  for (const date of ['2031-04-18', '2031-06-20']) {
    const level = 100 * (expiries.find((e) => e.date === date)?.atm ?? NaN);
    const told = number(
      await read.locator(`[data-line="${date === '2031-04-18' ? '18 Apr' : '20 Jun'}"]`).textContent(),
    );
    expect(Math.abs(told - level), date).toBeLessThan(0.4);
  }
  await expect(read).toContainText(/ln\(strike \/ forward\) [−+]?0\.0/);
  // It lies where the pointer is not.
  const covered = await read.boundingBox();
  const x = await at(0);
  expect(covered && covered.x < x && x < covered.x + covered.width).toBe(false);

  await expect(page.getByText('drag to zoom')).toBeVisible();
  await page.mouse.move(await at(-0.1), box.y + 150);
  await page.mouse.down();
  await page.mouse.move(await at(0.05), box.y + 320, { steps: 6 });
  await page.mouse.up();
  const range = () =>
    plot.evaluate(
      (node) => (node as unknown as { layout: { xaxis: { range: [number, number] } } }).layout.xaxis.range[0],
    );
  const reset = page.getByRole('button', { name: 'zoomed · show all' });
  await expect(reset).toBeVisible();
  const near = await range();
  await reset.click();
  await expect(reset).toHaveCount(0);
  await expect.poll(range).toBeLessThan(near - 0.01);

  // Two charts of a view mark the same day: expiries of a future and its delivery months.
  await openPage(page, '/term/RYE');
  const term = page
    .getByRole('figure', { name: /^At-the-money volatility by expiry/ })
    .locator('.plot[data-ready=true]');
  await expect(term).toBeVisible();
  await expect(page.getByTestId('crosshair-elsewhere')).toHaveCount(0);
  await term.hover({ position: { x: 300, y: 150 } });
  await expect(
    page.getByRole('figure', { name: 'Prices of the delivery months' }).getByTestId('crosshair-elsewhere'),
  ).toBeVisible();
});

test('the smile plays through the year beside the price, stops, and can be scrubbed by key', async ({
  page,
  request,
}) => {
  interface Session {
    instant: string;
    price: number;
  }
  const { sessions } = (await (await request.get('/api/v1/underlyings/VM50/skew-history')).json()) as {
    sessions: Session[];
  };
  await openPage(page, '/skew/VM50?skew=replay');
  const shown = page.getByTestId('replay-session');
  await expect(shown).toContainText('at the money');
  const slider = page.getByRole('slider', { name: 'Session' });
  await slider.focus();
  await page.keyboard.press('Home');
  await expect(shown).toContainText(sessions[0].price.toFixed(1).replace(/\B(?=(\d{3})+(?!\d))/g, '\u202f'));
  await page.keyboard.press('ArrowRight');
  await expect(slider).toHaveValue('1');
  const path = () => page.getByTestId('replay-smile').getAttribute('d');
  const first = await path();
  await page.getByRole('button', { name: 'play', exact: true }).click();
  await expect.poll(path).not.toBe(first);
  await expect.poll(async () => Number(await slider.inputValue())).toBeGreaterThan(20);
  await page.getByRole('button', { name: 'stop' }).click();
  // Stopped is what stays the same while the page is painted on.
  const stopped = await slider.inputValue();
  await page.evaluate(async () => {
    for (let frame = 0; frame < 10; frame++) await new Promise((resolve) => requestAnimationFrame(resolve));
  });
  expect(await slider.inputValue()).toBe(stopped);
  // Where it stands is in the link, and a click on the price goes there.
  await expect(page).toHaveURL(new RegExp(`session=${sessions[Number(stopped)].instant.slice(0, 10)}`));
  const price = page.getByRole('img', { name: /^Price through the year/ });
  await price.hover({ position: { x: 61, y: 90 } });
  await expect(page.getByTestId('replay-price-read')).toContainText('XTS');
  await price.click({ position: { x: 61, y: 90 } });
  await expect(slider).toHaveValue('0');
  await expect(page).toHaveURL(new RegExp(`session=${sessions[0].instant.slice(0, 10)}`));
  await openPage(page, page.url());
  await expect(slider).toHaveValue('0');
  await expect(price).toHaveAccessibleName(/\d+ events/);
});

test("give the thin fund the index's smile and read its theoretical values; a chain may not lead back", async ({
  page,
  request,
}) => {
  const { asOf, expiries: own } = (await (await request.get('/api/v1/underlyings/VFUND/skew')).json()) as {
    asOf: string;
    expiries: Expiry[];
  };
  // Of the same instant: a market that runs meanwhile stores later ones of the index.
  const at = encodeURIComponent(asOf);
  const { expiries: index } = (await (await request.get(`/api/v1/underlyings/VM50/skew?asOf=${at}`)).json()) as {
    expiries: Expiry[];
  };
  try {
    await openPage(page, '/skew/VFUND?expiry=2031-04-18');
    await page.getByRole('button', { name: 'borrow…' }).click();
    const dialog = page.getByRole('dialog', { name: 'Borrow a smile' });
    await dialog.getByRole('combobox').selectOption('VM50');
    await dialog.getByText('whole smile').click();
    await dialog.getByText('level fitted').click();
    await dialog.getByLabel('Shift in volatility points').fill('1');
    await dialog.getByRole('button', { name: 'borrow', exact: true }).click();
    await expect(dialog).toBeHidden();
    await expect(reading(page)).toContainText('The whole smile of VM50 is borrowed');
    await expect(reading(page)).toContainText('moved by +1.00 points');
    await page.goto('/chain/VFUND?expiry=2031-04-18&volatilitySource=borrowed');
    await expect(page.getByRole('banner')).toContainText('borrowed');
    const [fund, donor] = [own, index].map((list) => list.find((e) => e.date === '2031-04-18'));
    if (!fund || !donor) throw new Error('no April expiry');
    // A call a few percent up: its theory is Black's on the fund's forward at the index's volatility plus a point.
    const row = page
      .getByTestId('ladder')
      .locator('tbody tr')
      .filter({ has: page.getByText('call') })
      .last();
    const figure = row.locator('[data-figure^="theory~"]');
    await expect(figure).not.toHaveText('—');
    const strike = number((await figure.getAttribute('data-figure'))?.split('~')[2] ?? null);
    const volatility = sviVolatility(donor, donor.forward * (strike / fund.forward)) + 0.01;
    const { results } = (await (
      await request.post('/api/v1/price', {
        data: {
          contracts: [
            {
              side: 'call',
              exercise: 'european',
              model: 'futures',
              underlying: fund.forward,
              strike,
              years: fund.years,
              rate: -Math.log(fund.discountFactor) / fund.years,
              volatility,
            },
          ],
        },
      })
    ).json()) as { results: { price: number }[] };
    // Early exercise of a fund's call outside the money is worth less than half a tick.
    // The thread's values take the place of the European equivalents when they come.
    await expect.poll(async () => Math.abs(number(await figure.textContent()) - results[0].price)).toBeLessThan(0.011);
    const back = await request.put('/api/v1/underlyings/VM50/borrow', {
      data: { donor: 'VFUND', kind: 'shape', shift: null },
    });
    expect(back.status()).toBe(422);
    expect(((await back.json()) as { errors: { message: string }[] }).errors[0].message).toContain(
      'VM50 borrows from VFUND borrows from VM50',
    );
    // Through a third one the chain is followed.
    await request.put('/api/v1/underlyings/VMQ/borrow', { data: { donor: 'VFUND', kind: 'total', shift: 0 } });
    const through = (await (await request.get('/api/v1/underlyings/VMQ/borrow')).json()) as {
      state: { chain: string[]; trouble: string | null };
    };
    expect(through.state).toMatchObject({ chain: ['VFUND', 'VM50'], trouble: null });
  } finally {
    for (const symbol of ['VFUND', 'VMQ', 'VM50']) await request.delete(`/api/v1/underlyings/${symbol}/borrow`);
  }
});

test('read the surface by key and pointer, turn it, and find all of it in the link; a spike does not flatten it', async ({
  page,
  request,
}) => {
  interface Smile {
    date: string;
    forward: number;
    atm: number;
  }
  const { expiries } = (await (await request.get('/api/v1/underlyings/VM50/skew')).json()) as { expiries: Smile[] };
  await openPage(page, '/skew/VM50?skew=surface&expiry=2031-04-18');
  const surface = page.getByRole('application', { name: /^Surface of/ });
  const canvas = surface.locator('canvas');
  // Drawn: not all of one color.
  const colors = () =>
    canvas.evaluate((node: HTMLCanvasElement) => {
      const { data } = (node.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, node.width, node.height);
      const seen = new Set<number>();
      for (let i = 0; i < data.length; i += 44)
        seen.add(data[i + 3] * 2 ** 24 + (data[i] << 16) + (data[i + 1] << 8) + data[i + 2]);
      return seen.size;
    });
  await expect.poll(colors).toBeGreaterThan(20);
  // Keys read: walk along the expiry in focus to the forward, where it is what the API says.
  await surface.focus();
  const read = page.getByTestId('readout');
  await page.keyboard.press('ArrowRight');
  await expect(read).toContainText('18 Apr');
  const distance = async () =>
    Number(/([−+]?[\d.]+) % from/.exec((await read.textContent()) ?? '')?.[1].replace('−', '-'));
  for (let steps = 0; steps < 40 && Math.abs(await distance()) > 0.05; steps++)
    await page.keyboard.press((await distance()) > 0 ? 'ArrowLeft' : 'ArrowRight');
  const focus = expiries.find((e) => e.date === '2031-04-18');
  await expect(read).toContainText(`${(100 * (focus?.atm ?? NaN)).toFixed(1)} %`);
  await page.keyboard.press('ArrowUp');
  await expect(read).toContainText('16 May');
  // With shift they turn; the link says from where, and what is shown.
  const before = await canvas.screenshot();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect(page).toHaveURL(/turn=-29/);
  expect((await canvas.screenshot()).equals(before)).toBe(false);
  await page.getByRole('button', { name: 'gamma', exact: true }).click();
  await expect(page).toHaveURL(/height=gamma/);
  await expect(page.getByTestId('surface-says')).toContainText(/\d+ of \d+ values go beyond that/);
  await openPage(page, page.url());
  await expect(page.getByRole('application', { name: /^Surface of gamma/ }).locator('canvas')).toHaveAttribute(
    'data-turn',
    ((-29 * Math.PI) / 180).toFixed(2),
  );
  // A pointer reads as well.
  const box = await canvas.boundingBox();
  if (!box) throw new Error('not drawn');
  await page.getByRole('button', { name: 'heatmap' }).click();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await expect(read).toContainText('from the forward');
  await page.getByRole('button', { name: 'open interest', exact: true }).click();
  await expect(page.getByTestId('surface-says')).toContainText(/^open interest, 0 to [\d\s\u202f]+/);
  await expect.poll(colors).toBeGreaterThan(20);
  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Data of Surface of open interest.* as CSV$/ }).click();
  expect((await file).suggestedFilename()).toMatch(/^surface-of-open-interest.*\.csv$/);
});
