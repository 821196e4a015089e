import { beforeAll, expect, test } from 'vitest';
import { ask } from './ask.ts';
import { Validator } from '@seriousme/openapi-schema-validator';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';

/*
 * The OpenAPI document against an outside validator, and every answer against the document by an outside reader of JSON
 * Schema 2020-12: what the contract says is what arrives.
 */

interface Operation {
  parameters?: { name: string; in: string; required?: boolean }[];
  responses: Record<string, { content?: Record<string, { schema: object }> }>;
}
interface OpenApi extends Record<string, unknown> {
  openapi: string;
  paths: Record<string, Record<string, Operation>>;
}

let document: OpenApi;
let ajv: Ajv2020;
/** By their place in the document: compiling one takes longer than asking. */
const validators = new Map<string, ReturnType<Ajv2020['compile']>>();

beforeAll(async () => {
  document = (await (await ask('/api/v1/openapi.json')).json()) as OpenApi;
  ajv = new Ajv2020({ strict: false, allErrors: true });
  addFormats.default(ajv);
  ajv.addSchema(document, 'api');
});

/** Complaints of the document about an answer; none when it is as promised. */
function complaints(path: string, method: string, status: '200' | '4XX', type: string, body: unknown): string[] {
  const place = ['paths', path, method, 'responses', status, 'content', type, 'schema'];
  const pointer = place.map((part) => part.replaceAll('~', '~0').replaceAll('/', '~1')).join('/');
  let validate = validators.get(pointer);
  if (!validate) validators.set(pointer, (validate = ajv.compile({ $ref: `api#/${encodeURI(pointer)}` })));
  return validate(body) ? [] : (validate.errors ?? []).map((e) => `${path} ${e.instancePath} ${e.message ?? ''}`);
}

async function expectPromised(path: string, query = ''): Promise<unknown> {
  const symbol = new URLSearchParams(query).get('symbol') ?? 'VM50';
  const response = await ask(`/api/v1${path.replace('{symbol}', symbol)}${query === '' ? '' : `?${query}`}`);
  expect(response.status, path).toBe(200);
  const body: unknown = await response.json();
  expect(complaints(path, 'get', '200', 'application/json', body)).toEqual([]);
  return body;
}

test('the document is valid OpenAPI 3.1, and the reader of schemas finds what does not fit it', async () => {
  const outcome = await new Validator().validate(structuredClone(document));
  expect(outcome.errors ?? []).toEqual([]);
  expect(outcome.valid).toBe(true);
  const wrong = { symbol: 'VM50', asOf: 'yesterday', price: '4800' };
  const found = complaints('/underlyings/{symbol}/term', 'get', '200', 'application/json', wrong);
  expect(found.join()).toContain('/asOf must match format');
  expect(found.join()).toContain("must have required property 'term'");
  expect(found.join()).toContain('/price must be number');
});

/** What a question must say that has no answer without. */
const ASKED: Readonly<Record<string, string>> = {
  '/underlyings/{symbol}/probability': 'kind=below&level=90',
  '/underlyings/{symbol}/strikes': 'probability=0.2',
};
const askedOf = (path: string, query: string) => [ASKED[path], query].filter((part) => part).join('&');

test('every list and view answers as the document says: index, share, future and currency, now and before', async () => {
  const reads = Object.entries(document.paths).flatMap(([path, methods]) =>
    methods.get?.responses['200'].content?.['application/json'] ? [path] : [],
  );
  expect(reads.length).toBeGreaterThan(10);
  const views = reads.filter((path) => path.includes('{symbol}'));
  expect(views.length).toBeGreaterThanOrEqual(9);
  for (const path of reads.filter((p) => !p.includes('{'))) await expectPromised(path);
  for (const path of views) {
    for (const symbol of ['VM50', 'KELPA', 'RYE', 'TERN'])
      await expectPromised(path, askedOf(path, `symbol=${symbol}`));
    await expectPromised(path, askedOf(path, `asOf=${encodeURIComponent('2031-03-12T17:30:00+01:00')}`));
  }
});

test('under every volatility source the chain is as promised, and theory rests on it', async () => {
  const path = '/underlyings/{symbol}/chain';
  type Chain = { quotes: { strike: number; side: string; theoryVolatility: number | null; theory: number | null }[] };
  const levels = new Map<string, Set<number | null>>();
  for (const source of ['smile', 'own', 'atm', 'index', 'realized', 'typed']) {
    const query = `expiry=2031-04-18&volatilitySource=${source}&typedVolatility=0.25`;
    const { quotes } = (await expectPromised(path, query)) as Chain;
    levels.set(source, new Set(quotes.map((q) => q.theoryVolatility)));
    for (const q of quotes) expect(q.theory === null).toBe(q.theoryVolatility === null);
  }
  for (const source of ['atm', 'index', 'realized', 'typed']) expect(levels.get(source)?.size, source).toBe(1);
  expect(levels.get('typed')).toEqual(new Set([0.25]));
  // The smile has a volatility for every strike, the quotes' own one for every quote.
  const { quotes } = (await expectPromised(path, 'expiry=2031-04-18')) as Chain;
  const strikes = new Set(quotes.map((q) => q.strike)).size;
  expect(levels.get('smile')?.size).toBe(strikes);
  expect(levels.get('own')?.size).toBeGreaterThan(strikes);
  const level = (await expectPromised('/underlyings/{symbol}/term')) as { index30: number };
  expect(levels.get('index')).toEqual(new Set([level.index30]));
});

test('a malformed parameter is refused with its name, in the form of the document', async () => {
  const path = '/underlyings/{symbol}/chain';
  for (const [query, name] of [
    ['asOf=tomorrow', 'asOf'],
    ['expiry=soon', 'expiry'],
    ['forwardSource=guess', 'forwardSource'],
    ['volatilitySource=best', 'volatilitySource'],
    ['typedVolatility=-1', 'typedVolatility'],
    ['restored=2031-03-21/125/both', 'restored[0]'],
  ]) {
    const response = await ask(`/api/v1/underlyings/VM50/chain?${query}`);
    expect(response.status, query).toBe(400);
    const body = (await response.json()) as { errors: { path: string }[] };
    expect(body.errors.map((e) => e.path)).toEqual([name]);
    expect(complaints(path, 'get', '4XX', 'application/problem+json', body)).toEqual([]);
  }
  const tenor = await ask('/api/v1/underlyings/VM50/skew-history?days=many');
  expect(tenor.status).toBe(400);
  expect(((await tenor.json()) as { errors: { path: string }[] }).errors[0].path).toBe('days');
});

test('what is posted is answered as the document says, wrong rows in their place', async () => {
  const option = {
    side: 'put',
    exercise: 'american',
    model: 'spot',
    underlying: 100,
    strike: 105,
    years: 0.5,
    rate: 0.03,
  };
  const strikes = Array.from({ length: 21 }, (_, i) => 80 + 2 * i);
  const { results } = (await (
    await ask('/api/v1/price', {
      body: {
        contracts: (['call', 'put'] as const).flatMap((side) =>
          strikes.map((strike) => ({ ...option, side, strike, exercise: 'european', volatility: 0.2 + strike / 1e4 })),
        ),
      },
    })
  ).json()) as { results: { price: number }[] };
  const quote = (first: number, half: number) =>
    results.slice(first, first + strikes.length).map((r) => Math.max(0, r.price + half));
  const slice = {
    years: option.years,
    strikes,
    callBid: quote(0, -0.05),
    callAsk: quote(0, 0.05),
    putBid: quote(21, -0.05).map((bid, i) => (i === 4 ? null : bid)),
    putAsk: quote(21, 0.05),
  };
  for (const [path, data] of [
    [
      '/price',
      {
        contracts: [
          { ...option, volatility: 0.3 },
          { ...option, volatility: 0.3, dividends: [{ years: 0.2, amount: 1 }] },
          { ...option, volatility: -1 },
        ],
      },
    ],
    [
      '/implied-volatility',
      {
        accuracy: 'fast',
        contracts: [
          { ...option, price: 9 },
          { ...option, price: 1 },
          { ...option, price: 'NaN' },
        ],
      },
    ],
    ['/surface/fit', { underlying: 100, rate: 0.03, slices: [slice] }],
  ] as const) {
    const response = await ask(`/api/v1${path}`, { body: data });
    expect(response.status, path).toBe(200);
    const body = (await response.json()) as { results?: object[]; slices?: object[] };
    expect(complaints(path, 'post', '200', 'application/json', body)).toEqual([]);
    if (body.results)
      expect(body.results.map((r) => 'error' in r)).toEqual(
        path === '/price' ? [false, false, true] : [false, true, true],
      );
    else
      expect(body.slices).toMatchObject([
        { smile: { model: 'svi-raw' }, rejected: [{ strike: 88, side: 'put', reason: 'no-bid' }] },
      ]);
    const malformed = await ask(`/api/v1${path}`, { body: { contracts: 'all', slices: 1 } });
    expect(malformed.status, path).toBe(400);
    expect(complaints(path, 'post', '4XX', 'application/problem+json', await malformed.json())).toEqual([]);
  }
});

test('what is promised as CSV comes as CSV, by the query and by what is accepted', async () => {
  const promised = Object.entries(document.paths).filter(
    ([path, methods]) => methods.get?.responses['200'].content?.['text/csv'] && !path.startsWith('/exports/'),
  );
  expect(promised.length).toBeGreaterThan(8);
  for (const [path] of promised) {
    const address = `/api/v1${path.replace('{symbol}', 'KELPA')}`;
    for (const answer of [
      await ask(`${address}?${askedOf(path, 'format=csv')}`),
      await ask(`${address}?${askedOf(path, '')}`, { headers: { accept: 'text/csv' } }),
    ]) {
      expect(answer.status, path).toBe(200);
      expect(answer.headers.get('content-type'), path).toContain('text/csv');
    }
  }
  const skew = (await (await ask('/api/v1/underlyings/KELPA/skew?format=csv')).text()).trim().split('\n');
  const { expiries } = (await (await ask('/api/v1/underlyings/KELPA/skew')).json()) as {
    expiries: { date: string; atm: number }[];
  };
  const heads = skew[0].split(',');
  expect(
    skew
      .slice(1)
      .map((line) => [line.split(',')[heads.indexOf('date')], Number(line.split(',')[heads.indexOf('atm')])]),
  ).toEqual(expiries.map((e) => [e.date, e.atm]));
});
