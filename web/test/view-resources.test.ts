import { beforeEach, expect, test } from 'vitest';
import { isQuoted, type Picture } from '../src/lib/api/picture.ts';
import { viewResources } from '../src/lib/market/index.ts';
import { wantedResources } from '../src/lib/shell/view-definition.ts';
import { borrowedLine, fittedLines } from '../src/lib/views/skew/skew-lines.ts';
import { PALETTES } from '../src/lib/ui/palette.ts';
import { VIEWS } from '../src/lib/views/index.ts';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import { curveLabel, futuresCurveChart } from '../src/lib/views/term/futures-curve-chart.ts';
import { madePicture } from './made-picture.ts';

/* A view sees what it asked for; what it lacks it asks for once, and never joins quotes of one instant to smiles of another. */

/** A picture as the server sends it in parts. */
function partsOf(picture: Picture) {
  const { previousPrice, standing, indexStanding, realized30, history, waiting, ...surface } = picture;
  const { asOf } = picture;
  const { symbol } = picture.underlying;
  const shape = surface.shape && { riskReversal25: null, butterfly25: null };
  return {
    surface: JSON.stringify({
      ...surface,
      expiries: picture.expiries.map(({ strikes: _s, call: _c, put: _p, realized: _r, standing: _t, ...e }) => e),
    }),
    past: JSON.stringify({
      ...{ symbol, asOf, previousPrice, standing, indexStanding, realized30, history, waiting, shape },
      expiries: picture.expiries.map(({ date, realized, standing: placed }) => ({ date, realized, standing: placed })),
    }),
    market: JSON.stringify({
      ...{ symbol, asOf },
      expiries: picture.expiries.map(({ date, strikes, call, put }) => ({ date, strikes, call, put })),
    }),
  };
}

const picture = JSON.parse(JSON.stringify(madePicture())) as Picture;
let asked: string[];
let answers: Record<string, string>;
const fetching = ((address: string) => {
  asked.push(address);
  const [, name] = /\/(\w+)\?/.exec(address) ?? [];
  return Promise.resolve(new Response(answers[name]));
}) as typeof fetch;
beforeEach(() => {
  asked = [];
  answers = { market: partsOf(picture).market, picture: JSON.stringify(picture) };
});
const see = (texts: { surface: string; past: string; market?: string }, needsQuotes: boolean, query = '') =>
  viewResources(texts, { needsQuotes, query: new URLSearchParams(query), fetch: fetching });

test('what came with the page is joined, the same as in one, and asked for nowhere', async () => {
  expect(await see(partsOf(picture), true)).toEqual(picture);
  const { market: _, ...texts } = partsOf(picture);
  const seen = await see(texts, false);
  expect(seen.expiries.some(isQuoted)).toBe(false);
  expect(seen.expiries.map((e) => e.atm)).toEqual(picture.expiries.map((e) => e.atm));
  expect(asked).toEqual([]);
});

test('quotes that did not come are asked for once, at the shown instant under the same assumptions', async () => {
  const { market: _, ...texts } = partsOf(picture);
  const first = await see(texts, true, 'forwardSource=carry&axis=delta&restored=2031-04-18/92/put');
  expect(first).toEqual(picture);
  expect(asked).toHaveLength(1);
  const url = new URL(asked[0], 'http://localhost');
  expect(url.pathname).toBe('/api/v1/underlyings/FJRD/market');
  expect(Object.fromEntries(url.searchParams)).toEqual({
    asOf: picture.asOf,
    forwardSource: 'carry',
    restored: '2031-04-18/92/put',
  });
  // Another view of the same sees the same object: nothing is computed again.
  expect(await see(texts, true)).toBe(first);
  expect(await see(texts, false)).toBe(first);
  expect(asked).toHaveLength(1);
});

test('quotes of another wave are not joined to these smiles: all is taken of the newer one', async () => {
  const live = { ...picture, isLive: true };
  const { market: _, ...texts } = partsOf(live);
  const newer = { ...picture, asOf: '2031-03-14T13:00:01Z', price: 101 };
  answers = { market: partsOf(newer).market, picture: JSON.stringify(newer) };
  expect(await see(texts, true, 'asOf=live')).toEqual(newer);
  expect(asked.map((a) => a.replace(/.*\/(\w+)\?.*/, '$1'))).toEqual(['market', 'picture']);
  expect(asked.every((a) => a.includes('asOf=live'))).toBe(true);
});

test('a link that explains a quote brings the quotes to a view that asks for none', () => {
  const term = VIEWS.find((v) => v.id === 'term');
  if (!term) throw new Error('no Term');
  const wanted = (query: string) => wantedResources(term, new URLSearchParams(query));
  expect(wanted('workings=atm~2031-04-18')).toEqual(['surface', 'past']);
  expect(wanted('workings=theory~2031-04-18~96~put')).toEqual(['surface', 'past', 'market']);
});

test('addresses from before views had parameters of their own open the same', () => {
  const old =
    'asOf=2031-03-12T17:30:00%2B01:00&expiries=2031-04-18,2031-05-16&expiry=2031-05-16&forwardSource=carry&carry=known' +
    '&volatilitySource=typed&typedVolatility=0.3&basis=contract&restored=2031-04-18/92/put&skew=year&by=delta&axis=moneyness' +
    '&lines=wings,index&compare=KELPA,VM50@2031-02-14T17:30:00%2B01:00&table=prints&sides=both&workings=atm30';
  const said = Object.fromEntries(new URLSearchParams(old));
  expect(asOfContext.parse(said)).toMatchObject({
    ...{ asOf: '2031-03-12T17:30:00+01:00', expiries: ['2031-04-18', '2031-05-16'], expiry: '2031-05-16' },
    ...{ forwardSource: 'carry', carry: 'known', volatilitySource: 'typed', typedVolatility: 0.3, basis: 'contract' },
    restored: [{ expiry: '2031-04-18', strike: 92, side: 'put' }],
  });
  const own = Object.fromEntries(VIEWS.map((v) => [v.id, v.parameters.parse(said)]));
  const compare = [{ symbol: 'KELPA' }, { symbol: 'VM50', asOf: '2031-02-14T17:30:00+01:00' }];
  expect(own.term).toEqual({ lines: ['wings', 'index'], scale: 'level', compare, workings: 'atm30' });
  expect(own.skew).toMatchObject({ skew: 'year', by: 'delta', axis: 'moneyness', compare, workings: 'atm30' });
  expect(own.chain).toMatchObject({ table: 'trades', sides: 'both', show: 'all', met: 'any', workings: 'atm30' });
  // What was picked on Chain alone is picked for all views.
  expect(asOfContext.parse({ ...said, legs: '-2~2031-04-18~4600~put' }).legs).toEqual([
    { ratio: -2, expiry: '2031-04-18', strike: 4600, side: 'put' },
  ]);
});

test('smiles are drawn over the quotes behind them, the one that is lent over those of its borrower', () => {
  const o = { axis: 'moneyness', palette: PALETTES.day, asOf: picture.asOf } as const;
  const focus = picture.expiries[1];
  const lines = fittedLines(picture.expiries, focus, o);
  expect(lines.map((l) => l.name.isFocus)).toEqual([false, true, false, false]);
  for (const [i, { trace, volatilities, name }] of lines.entries()) {
    const x = (trace as { x: number[] }).x;
    expect([x[0], x[x.length - 1]]).toEqual(picture.expiries[i].smile?.range);
    expect([name.x, name.y]).toEqual([x[x.length - 1], volatilities[volatilities.length - 1]]);
    const middle = volatilities[x.findIndex((k) => k >= 0)];
    expect(Math.abs(middle - 100 * (picture.expiries[i].atm ?? NaN))).toBeLessThan(0.1);
  }
  expect(borrowedLine(focus, o)).toBeUndefined();
  const base = { smile: { model: 'flat' as const, parameters: { volatility: 0.4 } }, years: 0.1 };
  const borrowed = { donor: 'VM50', donorExpiry: focus.date, isOtherDate: false, base, steps: [] };
  const lent = borrowedLine({ ...focus, borrowed }, o);
  expect(lent?.name).toMatchObject({ text: "VM50's smile", x: focus.smile?.range[0], y: 40 });
  expect(new Set(lent?.volatilities)).toEqual(new Set([40]));
});

test('delivery months are drawn with those of other days of the same underlying alone', () => {
  const curve = { deliveries: ['2031-03-21', '2031-06-20', '2031-09-19'], prices: [100, 104, 103] };
  const own = { ...picture, futuresCurve: curve };
  const chart = futuresCurveChart(own, {
    beside: [
      { picture: { ...own, futuresCurve: { ...curve, prices: [99, 98, 97] } }, name: 'then' },
      { picture: { ...own, underlying: { ...own.underlying, symbol: 'RYE' } }, name: 'RYE' },
      { picture, name: 'without months' },
    ],
    palette: PALETTES.day,
  });
  expect(chart.data.map((d) => (d as { y: number[] }).y)).toEqual([
    [99, 98, 97],
    [100, 104, 103],
  ]);
  expect(chart.description).toBe('Prices of FJRD by delivery month: 21 Mar 100.00, 20 Jun 104.00, 19 Sep 103.00.');
  expect([[1], [1, 2, 2], [3, 2], [1, 3, 2]].map(curveLabel)).toEqual(['single', 'rising', 'falling', 'mixed']);
});
