import { readFileSync } from 'node:fs';
import { blackScholesMertonGreeks, optionGreeks } from '@umwelt/core/pricing';
import { afterAll, expect, test } from 'vitest';
import { closeComputePool } from '../../src/lib/server/derive/pool.ts';
import { rowStream } from '../../src/lib/server/http/row-stream.ts';

afterAll(closeComputePool);

const post = (kind: 'price' | 'implied-volatility', body: unknown) =>
  rowStream(
    new Request('http://localhost/', { method: 'POST', body: typeof body === 'string' ? body : JSON.stringify(body) }),
    kind,
  );

const american = {
  side: 'put',
  exercise: 'american',
  model: 'spot',
  underlying: 36,
  strike: 40,
  years: 1,
  rate: 0.06,
  volatility: 0.2,
} as const;

test('every model and exercise is priced, scaled as the contract says, in the order of the request', async () => {
  const contracts = [
    american,
    { ...american, exercise: 'european' },
    { ...american, strike: -1 },
    { ...american, model: 'futures' },
    { ...american, model: 'normal', volatility: 7 },
    { ...american, dividends: [{ years: 0.5, amount: 1 }] },
    { ...american, dividends: [{ years: 1.5, amount: 1 }] },
    { side: 'call' },
    { ...american, exercise: 'european', underlying: 40, years: 0 },
    { ...american, volatility: 30 },
  ];
  const response = await post('price', { accuracy: 'exact', contracts });
  expect(response.status).toBe(200);
  const { results } = (await response.json()) as { results: Record<string, number | string>[] };
  expect(results).toHaveLength(contracts.length);
  // Longstaff & Schwartz (2001), table 1, print 4.478 for 50 exercise dates a year; without that limit it is 4.487.
  expect(results[0].price).toBeCloseTo(4.4867, 4);
  const european = blackScholesMertonGreeks({ ...american, spot: 36, timeToExpiry: 1, dividendYield: 0 });
  expect(results[1]).toMatchObject({ price: european.price, theta: european.theta / 365, vega: european.vega * 0.01 });
  expect(results[2]).toMatchObject({ error: 'invalid', message: expect.stringContaining('strike') as string });
  const normal = optionGreeks({ ...american, model: 'normal', volatility: 7, timeToExpiry: 1 }, 'exact');
  expect(results[4]).toMatchObject({ price: normal.price, vega: normal.vega });
  expect(Number(results[5].price)).toBeGreaterThan(Number(results[0].price));
  expect(results[6]).toMatchObject({ error: 'invalid', message: expect.stringContaining('dividend') as string });
  expect(results[7].error).toBe('invalid');
  // Limits: an infinite gamma has no number in JSON; what cannot be solved says so.
  expect(results[8]).toMatchObject({ price: 0, gamma: null });
  expect(results[9]).toMatchObject({ error: 'invalid', message: expect.stringContaining('at most 20') as string });
});

test('implied volatilities of every kind come back, impossible prices by name', async () => {
  const { volatility: _, ...contract } = american;
  const contracts = [
    { ...contract, price: 4.486669 },
    { ...contract, price: 4 },
    { ...contract, price: 3.9 },
    { ...contract, price: 40 },
    { ...contract, price: 'NaN' },
    { ...contract, model: 'normal', exercise: 'european', rate: 0, price: 5 },
  ];
  const response = await post('implied-volatility', { contracts });
  const { results } = (await response.json()) as { results: { volatility?: number; error?: string }[] };
  expect(results[0].volatility).toBeCloseTo(0.2, 6);
  expect(results.slice(1, 5)).toEqual([
    { volatility: 0 },
    { error: 'below-intrinsic' },
    { error: 'above-bound' },
    { error: 'not-a-number' },
  ]);
  expect(results[5].volatility).toBeGreaterThan(5);
});

test('100,000 contracts come in pieces; a body that is not JSON or has too many is refused', async () => {
  const contracts = Array.from({ length: 100_000 }, (_, i) => ({
    ...american,
    exercise: 'european',
    strike: 20 + i / 2500,
  }));
  const response = await post('price', { contracts });
  let pieces = 0;
  let text = '';
  const decoder = new TextDecoder();
  for await (const piece of response.body as unknown as AsyncIterable<Uint8Array>) {
    pieces++;
    text += decoder.decode(piece, { stream: true });
  }
  expect(pieces).toBeGreaterThan(100);
  const { results } = JSON.parse(text) as { results: { price: number }[] };
  expect(results).toHaveLength(100_000);
  expect(results[50_000].price).toBe(
    blackScholesMertonGreeks({ ...american, spot: 36, strike: 40, timeToExpiry: 1, dividendYield: 0 }).price,
  );
  const tooMany = await post('price', { contracts: [...contracts, american] });
  expect(tooMany.status).toBe(400);
  expect(await tooMany.json()).toMatchObject({ type: 'invalid-request', errors: [{ path: 'contracts' }] });
  const malformed = await post('price', '{"contracts":');
  expect(malformed.status).toBe(400);
  expect(await malformed.json()).toMatchObject({ type: 'malformed-json' });
});

test('a client that goes away stops the work, and the next one is served', async () => {
  const contracts = Array.from({ length: 20_000 }, () => american);
  const response = await post('price', { accuracy: 'exact', contracts });
  await response.body?.cancel();
  const next = await post('price', { contracts: [american] });
  expect(next.status).toBe(200);
  expect(await next.json()).toHaveProperty('results');
});

test('every price of the American reference data is served within its tolerance', async () => {
  const file = new URL('../../../core/test/reference/american.json', import.meta.url);
  const { cases } = JSON.parse(readFileSync(file, 'utf8')) as {
    cases: {
      side: 'put' | 'call';
      spot: number;
      strike: number;
      years: number;
      price: number;
      [of: string]: unknown;
    }[];
  };
  const contracts = cases.map(({ side, strike, years, rate, dividendYield, volatility, spot }) => ({
    ...{ side, strike, years, rate, dividendYield, volatility },
    ...{ exercise: 'american', model: 'spot', underlying: spot },
  }));
  const response = await post('price', { accuracy: 'exact', contracts });
  const { results } = (await response.json()) as { results: { price: number }[] };
  const misses = results.filter((r, i) => !(Math.abs(r.price - cases[i].price) <= 3e-7 * cases[i].strike));
  expect(misses).toEqual([]);
});
