import { expect, test } from './application.ts';
import { openPage } from './open-page.ts';

test('what a figure rests on comes in rows: the strip of a model-free volatility, on a view without quotes', async ({
  page,
}) => {
  await openPage(page, '/term/VM50');
  const cell = page.locator('[data-figure="index~2031-04-18"]');
  const shown = Number(await cell.textContent());
  await cell.click();
  const drawer = page.getByRole('complementary', { name: 'Workings' });
  const rows = drawer.getByTestId('workings-series').locator('tbody tr[data-key]');
  await expect(rows.first()).toBeVisible();
  const told = await rows.evaluateAll((all) =>
    all.map((row) => [...row.querySelectorAll('td')].map((cell) => Number(cell.textContent.replace(/[^\d.]/g, '')))),
  );
  const inputs = await drawer.getByTestId('workings-inputs').locator('tbody tr').allTextContents();
  const valueOf = (symbol: string) =>
    Number(/([\d.]+)( y)?\s*$/.exec(inputs.find((i) => i.includes(symbol)) ?? '')?.[1]);
  const [years, discount] = [valueOf('time to expiry'), valueOf('discount factor')];
  // The sum over the strip by its published definition, from the numbers on the screen: strike, call bid and mid, put bid and mid.
  const quoted = told.filter(([, callBid, , putBid]) => callBid > 0 && putBid > 0);
  const nearest = quoted.reduce((a, b) => (Math.abs(b[2] - b[4]) < Math.abs(a[2] - a[4]) ? b : a));
  const forward = nearest[0] + (nearest[2] - nearest[4]) / discount;
  const below = told.filter(([strike]) => strike <= forward).at(-1);
  if (!below) throw new Error('no strike below the forward');
  const priced = told.flatMap(([strike, callBid, call, putBid, put]) => {
    if (strike === below[0]) return [{ strike, price: (call + put) / 2 }];
    const [bid, mid] = strike > forward ? [callBid, call] : [putBid, put];
    return bid > 0 && mid > 0 ? [{ strike, price: mid }] : [];
  });
  const sum = priced.reduce((total, { strike, price }, i) => {
    const [low, high] = [priced[Math.max(0, i - 1)], priced[Math.min(priced.length - 1, i + 1)]];
    const width = (high.strike - low.strike) / (low.strike === strike || high.strike === strike ? 1 : 2);
    return total + (width * price) / (strike * strike * discount);
  }, 0);
  const volatility = 100 * Math.sqrt((2 * sum - (forward / below[0] - 1) ** 2) / years);
  expect(Math.abs(volatility - shown)).toBeLessThan(0.06);
});
