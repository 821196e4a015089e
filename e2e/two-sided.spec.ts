import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

interface Quote {
  strike: number;
  side: 'call' | 'put';
  bid: number | null;
  ask: number | null;
  theory: number | null;
  delta: number | null;
  verdict: string | null;
}

test('calls to the left, puts to the right, the strike between: the numbers of the API, in the money quiet but readable', async ({
  page,
  request,
}) => {
  const { quotes, expiry } = (await (
    await request.get('/api/v1/underlyings/KELPA/chain?expiry=2031-04-18')
  ).json()) as { quotes: Quote[]; expiry: { forward: number } };
  await openPage(page, '/chain/KELPA?expiry=2031-04-18');
  await page.getByRole('button', { name: 'both sides' }).click();
  await expect(page).toHaveURL(/sides=both/);
  const table = page.getByTestId('two-sided');
  await expect(table).toHaveAttribute('aria-busy', 'false');
  const rows = await table.locator('tbody tr[data-key]').evaluateAll((all) =>
    all.map((row) => ({
      isRuled: row.className.includes('border-t-2'),
      cells: [...row.querySelectorAll('td')].map((cell) => ({
        column: cell.dataset.column ?? '',
        text: cell.textContent.trim().replace('−', '-'),
        color: getComputedStyle(cell).color,
      })),
    })),
  );
  const strikes = [...new Set(quotes.map((q) => q.strike))];
  expect(rows).toHaveLength(strikes.length);
  const [{ cells: first }] = rows;
  const columns = first.map((c) => c.column);
  // The same on either side, mirrored at the strike; a bid before its offer on both.
  const spine = columns.indexOf('strike');
  expect(columns.slice(spine + 1).map((c) => c.replace('put-', ''))).toEqual([
    ...['pick', 'market', 'bidVolatility', 'askVolatility', 'bid', 'ask', 'theory', 'delta'],
  ]);
  expect(columns.slice(0, spine).map((c) => c.replace('call-', ''))).toEqual([
    ...['delta', 'theory', 'bid', 'ask', 'bidVolatility', 'askVolatility', 'market', 'pick'],
  ]);
  const ink = (row: (typeof rows)[number], column: string) => row.cells.find((c) => c.column === column)?.color;
  for (const row of rows) {
    const of = (column: string) => row.cells.find((c) => c.column === column)?.text ?? '';
    const strike = Number(of('strike'));
    for (const side of ['call', 'put'] as const) {
      const quote = quotes.find((q) => q.strike === strike && q.side === side);
      if (!quote) throw new Error(`${strike} ${side}`);
      for (const name of ['bid', 'ask', 'delta'] as const)
        if (quote[name] !== null)
          expect(Math.abs(Number(of(`${side}-${name}`)) - quote[name]), `${strike} ${side} ${name}`).toBeLessThan(
            0.00501,
          );
      const theory = Number(of(`${side}-theory`).replace(/[^\d.]/g, ''));
      expect(Math.abs(theory - (quote.theory ?? NaN))).toBeLessThan(0.006);
    }
    // One that is kept out is quiet, too.
    if (quotes.some((q) => q.strike === strike && q.verdict !== null)) continue;
    const [inner, outer] = strike < expiry.forward ? ['call-delta', 'put-delta'] : ['put-delta', 'call-delta'];
    expect(ink(row, inner)).not.toBe(ink(row, outer));
  }
  // The rule stands where the forward lies.
  const ruled = rows.findIndex((r) => r.isRuled);
  expect(strikes.length).toBeGreaterThan(ruled);
  const strikeAt = (i: number) => Number(rows[i].cells[spine].text);
  expect(strikeAt(ruled)).toBeLessThan(expiry.forward);
  expect(strikeAt(ruled - 1)).toBeGreaterThanOrEqual(expiry.forward);

  // A column that is chosen comes on both sides; a figure opens its Workings.
  await page.getByRole('button', { name: /^Columns of KELPA/ }).click();
  await page.getByRole('dialog').getByRole('checkbox', { name: 'gamma', exact: true }).click();
  await page.keyboard.press('Escape');
  await expect(table.locator('thead th', { hasText: 'gamma' })).toHaveCount(2);
  await table.locator('[data-figure="bid~2031-04-18~95~put"]').click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toContainText('KELPA 18 Apr 95 put');
});

test('pick legs by key and by click: they stay in the address, and the foot says what they are together', async ({
  page,
  request,
}) => {
  const { quotes } = (await (await request.get('/api/v1/underlyings/VM50/chain?expiry=2031-04-18')).json()) as {
    quotes: Quote[];
  };
  const quote = (strike: number) => {
    const found = quotes.find((q) => q.strike === strike && q.side === 'put');
    if (!found) throw new Error(`${strike} put`);
    return found as Required<{ [K in keyof Quote]: NonNullable<Quote[K]> }>;
  };
  await openPage(page, '/chain/VM50?expiry=2031-04-18&sides=both');
  const table = page.getByTestId('two-sided');
  await expect(table).toHaveAttribute('aria-busy', 'false');
  const foot = page.getByTestId('picked');
  await page.getByRole('button', { name: /^Pick 4.400 put/ }).click();
  await expect(foot).toContainText('+1 4 400 put');
  await page.getByRole('button', { name: /^One 4.400 put less/ }).click();
  await expect(foot).toBeHidden();
  // A click on a figure stays Workings; with the keyboard on it, + and - pick its option.
  await table.locator('[data-figure="bid~2031-04-18~4600~put"]').click();
  await expect(page.getByRole('complementary', { name: 'Workings' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('+');
  await expect(foot).toContainText('+1 4 600 put');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('-');
  await expect(page).toHaveURL(/legs=1~2031-04-18~4600~put%2C-1~2031-04-18~4400~put|legs=1~2031-04-18~4600~put,-1/);
  const told = async (id: string) =>
    ((await page.getByTestId(id).textContent()) ?? '').replaceAll('−', '-').replace(/[\s+]/g, '');
  const [long, short] = [quote(4600), quote(4400)];
  await expect.poll(async () => Number(await told('picked-theory'))).toBeCloseTo(long.theory - short.theory, 0);
  const [bid, ask] = (await told('picked-market')).split('…').map(Number);
  expect(bid).toBeCloseTo(long.bid - short.ask, 6);
  expect(ask).toBeCloseTo(long.ask - short.bid, 6);
  expect(Math.abs(Number(await told('picked-delta')) - (long.delta - short.delta))).toBeLessThan(0.006);

  // They are there at another instant and by link, and taken back like any other change.
  await page.keyboard.press('[');
  await expect(page).toHaveURL(/asOf=.*legs=|legs=.*asOf=/);
  await openPage(page, page.url());
  await expect(foot).toContainText('+1 4 600 put');
  await page.getByRole('button', { name: 'clear' }).click();
  await expect(foot).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(foot).toContainText('−1 4 400 put');
});

test('filters leave whole strikes, say when nothing is left, and stay in the address', async ({ page, request }) => {
  const { quotes, expiry } = (await (
    await request.get('/api/v1/underlyings/KELPA/chain?expiry=2031-04-18')
  ).json()) as {
    quotes: (Quote & { volume: number | null })[];
    expiry: { forward: number; atm: number; years: number };
  };
  const strikesOf = (holds: (q: (typeof quotes)[number]) => boolean) =>
    new Set(quotes.filter(holds).map((q) => q.strike)).size;
  await openPage(page, '/chain/KELPA?expiry=2031-04-18&sides=both');
  const rows = page.getByTestId('two-sided').locator('tbody tr[data-key]');
  await expect(rows).toHaveCount(strikesOf(() => true));
  const shown = page.getByRole('group', { name: 'Quotes shown' });
  for (const [name, count] of [
    ['traded', strikesOf((q) => (q.volume ?? 0) > 0)],
    ['excluded', strikesOf((q) => q.verdict !== null)],
    [
      '±2 dev',
      strikesOf((q) => Math.abs(Math.log(q.strike / expiry.forward)) <= 2 * expiry.atm * Math.sqrt(expiry.years)),
    ],
  ] as const) {
    await shown.getByRole('button', { name, exact: true }).click();
    if (count > 0) await expect(rows).toHaveCount(count);
    else await expect(page.getByRole('button', { name: 'Show all.' })).toBeVisible();
  }
  await expect(page).toHaveURL(/show=within2/);
});
