import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { pagesOf } from '../web/src/lib/shell/view-address.ts';
import { VIEWS } from '../web/src/lib/views/index.ts';
import { expect, test } from './application.ts';
import { drawn, SEED } from './drawn.ts';
import { openPage } from './open-page.ts';
import { faultsOf } from './sweep.ts';

/* Every view of every kind of subject, by day and by night, on wide screens and narrow ones: nothing runs out, is cut, lies over
 * other words or is too pale to read. A dozen drawn by the commit is looked at each time, all of it in the long run. */

const WIDTHS = [1600, 1280, 900, 700];
const THEMES = ['day', 'night'] as const;
const HEIGHT = 800;

/** A calendar and a wing of VM50. */
const LEGS = 'legs=-1~2031-04-18~4700~put,1~2031-06-20~4700~put,1~2031-04-18~5000~call';

/** Panels of views beside what they open with. */
const PANELS: Record<string, string[]> = {
  level: ['show=ratio', 'realized=later&span=2', 'under=volume&forecast=har', 'withoutEvents=yes', 'implied=put'],
  term: ['lines=forward,wings,index,realized', 'compare=KELPA,TERN', 'compare=KELPA&scale=month', 'workings=atm30'],
  skew: [
    ...['expiries=all', 'axis=strike', 'axis=delta', 'skew=distance', 'skew=distance&by=delta', 'skew=year'],
    ...['skew=others&compare=KELPA,TERN', 'skew=replay', 'skew=surface'],
  ],
  chain: ['sides=both', 'sides=list', 'table=spreads', 'table=trades'],
  range: ['move=range', 'panel=strikes', 'panel=interest', 'panel=frozen', 'ahead=all&level=4500,5000'],
  // Legs of VM50: on the other subjects they are not listed, which is said.
  structure: [
    ...[LEGS, `${LEGS}&panel=chances`, `${LEGS}&panel=neutralize&sums=delta,gamma&by=2031-05-16~4800~put`],
    ...[`${LEGS}&panel=reach&each=yes`, `${LEGS}&panel=decay&measure=theta`, `${LEGS}&panel=shelf&down=volatility`],
  ],
  pricer: ['panel=decay', 'panel=market'],
};

/** Kinds of subjects: symbol, and what the address asks of it. */
const SUBJECTS: Record<string, { symbol: string; query?: string }> = {
  'an index of many expiries': { symbol: 'VM50' },
  'a share before an event': { symbol: 'TYNDA' },
  'a future': { symbol: 'RYE' },
  'a currency pair': { symbol: 'TERN' },
  'a thin fund': { symbol: 'VFUND' },
  'an imported chain': { symbol: 'FJRD' },
  'one expiry': { symbol: 'VM50', query: 'expiries=2031-04-18' },
  'no expiry': { symbol: 'VM50', query: 'expiries=' },
};

/** Addresses of all panels of each view of a subject. */
function addressesOf({ symbol, query }: { symbol: string; query?: string }): { view: string; addresses: string[] }[] {
  return pagesOf(VIEWS, symbol).map(({ view, address }) => ({
    view: view.label,
    addresses: [undefined, ...(PANELS[view.id] ?? [])].map((panel) => {
      const asked = [query, panel].filter((part) => part !== undefined).join('&');
      return asked === '' ? address : `${address}?${asked}`;
    }),
  }));
}

/** Imports the chain unless another test of this application has. */
async function importChain(page: Page): Promise<void> {
  if ((await page.request.get('/api/v1/underlyings/FJRD')).ok()) return;
  const data = readFileSync(new URL('files/heston-plain.csv', import.meta.url));
  const headers = { 'content-type': 'text/csv' };
  expect((await page.request.post('/api/v1/imports/chains', { data, headers })).ok()).toBe(true);
}

/** Until all that a page asks for is there. */
async function openWhole(page: Page, address: string): Promise<void> {
  await openPage(page, address);
  await expect(page.getByText(/^Fetching|on the way…$/)).toHaveCount(0);
  await expect(page.locator('main [aria-busy=true]')).toHaveCount(0);
  for (const plot of await page.locator('[data-ready]').all()) await expect(plot).toHaveAttribute('data-ready', 'true');
}

async function faultsAt(page: Page, widths: readonly number[], themes: readonly (typeof THEMES)[number][]) {
  const faults: string[] = [];
  for (const theme of themes) {
    if ((await page.locator('html').getAttribute('data-theme')) !== theme) await page.keyboard.press('t');
    await expect(page.locator('html')).toHaveAttribute('data-theme', theme);
    for (const width of widths) {
      await page.setViewportSize({ width, height: HEIGHT });
      faults.push(...(await faultsOf(page)).map((fault) => `${theme}, ${width} px: ${fault}`));
    }
  }
  return faults;
}

if (process.env.SOAK) {
  for (const [kind, subject] of Object.entries(SUBJECTS)) {
    for (const { view, addresses } of addressesOf(subject)) {
      test(`the sweep finds nothing in ${view} of ${kind}`, async ({ page }) => {
        if (subject.symbol === 'FJRD') await importChain(page);
        const faults: string[] = [];
        for (const address of addresses) {
          await openWhole(page, address);
          faults.push(...(await faultsAt(page, WIDTHS, THEMES)).map((fault) => `${address}, ${fault}`));
        }
        expect(faults).toEqual([]);
      });
    }
  }
} else {
  const views = new Map<string, Set<string>>();
  for (const { view, addresses } of Object.values(SUBJECTS).flatMap(addressesOf))
    views.set(view, new Set([...(views.get(view) ?? []), ...addresses]));
  const shuffled = [...views.values()].map((addresses) => drawn([...addresses]));
  // Each view once, and some again.
  const draws = [0, 1].flatMap((n) => shuffled.flatMap((addresses) => addresses.slice(n, n + 1))).slice(0, 12);
  draws.forEach((address, i) => {
    const [width, theme] = [WIDTHS[(SEED + i) % WIDTHS.length], THEMES[(SEED + (i >> 2)) % THEMES.length]];
    test(`the sweep finds nothing at ${address}, ${width} px, by ${theme}`, async ({ page }) => {
      if (address.includes('FJRD')) await importChain(page);
      await openWhole(page, address);
      expect(await faultsAt(page, [width], [theme])).toEqual([]);
    });
  });
}

test('the sweep itself finds words over words, cut ones, pale ones and what runs out of the page', async ({ page }) => {
  await openPage(page, '/data');
  await page.setContent(`<body style="margin:0;background:#fff">
    <p style="position:absolute;left:20px;top:20px">first words</p><p style="position:absolute;left:40px;top:24px">second words</p>
    <p style="position:absolute;top:80px;width:60px;overflow:hidden;white-space:nowrap">these words are cut</p>
    <p style="position:absolute;top:120px;color:#999">pale words</p>
    <p style="position:absolute;top:160px;left:1270px;white-space:nowrap">these run out</p>
    <p style="position:absolute;top:200px">hidden below</p><p style="position:absolute;top:200px;background:#fff;padding:4px">an opaque cover</p>
    <div style="position:absolute;top:240px;display:flex"><p style="width:60px;overflow:hidden;text-overflow:ellipsis;white-space:nowrap">cut with a mark</p><p>beside it</p></div>
    <p style="position:absolute;top:320px">as it should be</p></body>`);
  const faults = (await faultsOf(page)).join('\n');
  expect(faults).toContain('“first words” over “second words”');
  expect(faults).toMatch(/clipped “these words are cut” by \d+ px/);
  expect(faults).toMatch(/pale “pale words”: 2\.8/);
  expect(faults).toContain('out of the page “these run out”');
  expect(faults).not.toMatch(/as it should be|hidden below|opaque|beside it/);
  await page.evaluate(() => {
    const growing = document.querySelector('p');
    const grow = () => {
      growing?.style.setProperty('left', `${(performance.now() / 3) % 500}px`);
      requestAnimationFrame(grow);
    };
    grow();
  });
  expect(await faultsOf(page)).toEqual(['what is drawn never comes to rest']);
});
