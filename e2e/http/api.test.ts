import { expect, test } from 'vitest';
import { ask } from './ask.ts';

test('health, OpenAPI and lists answer; a list comes as CSV too', async () => {
  expect(await (await ask('/api/v1/health')).json()).toMatchObject({ status: 'ok' });
  const document = (await (await ask('/api/v1/openapi.json')).json()) as { openapi: string; paths: object };
  expect(document.openapi).toBe('3.1.0');
  expect(Object.keys(document.paths)).toEqual(
    expect.arrayContaining(['/price', '/implied-volatility', '/surface/fit', '/underlyings/{symbol}/chain']),
  );
  const csv = await (await ask('/api/v1/underlyings?format=csv')).text();
  expect(csv.split('\n')[0]).toContain('symbol,name');
  const term = (await (await ask('/api/v1/underlyings/VM50/term')).json()) as {
    term: { expiry: string; atm: number }[];
  };
  expect(term.term.length).toBeGreaterThan(8);
  const chain = await ask('/api/v1/underlyings/VM50/chain?expiry=2031-04-18');
  expect(await chain.json()).toMatchObject({ symbol: 'VM50', expiry: { date: '2031-04-18' } });
});

test('price scales Greeks as the contract says and keeps bad rows in their place', async () => {
  const contract = {
    side: 'call',
    exercise: 'european',
    model: 'spot',
    underlying: 49,
    strike: 50,
    years: 0.3846,
    rate: 0.05,
    volatility: 0.2,
  };
  const reply = await ask('/api/v1/price', {
    body: { contracts: [contract, { ...contract, strike: -1 }, { ...contract, model: 'futures' }] },
  });
  const { results } = (await reply.json()) as { results: Record<string, number>[] };
  // Hull, Options, Futures, and Other Derivatives, chapter on the Greek letters: printed 2.40, 0.522, 0.066, 12.1, -4.31, 8.91.
  expect(results[0].price).toBeCloseTo(2.4, 2);
  expect(results[0].delta).toBeCloseTo(0.522, 3);
  expect(results[0].gamma).toBeCloseTo(0.066, 3);
  expect(results[0].vega * 100).toBeCloseTo(12.1, 1);
  expect(results[0].theta * 365).toBeCloseTo(-4.31, 2);
  expect(results[0].rho * 100).toBeCloseTo(8.91, 2);
  expect(results[1]).toMatchObject({ error: 'invalid' });
  expect(results[2].rho * 100).toBeCloseTo(-0.3846 * results[2].price, 10);
});

test('implied volatility inverts prices and names what cannot be', async () => {
  const contract = {
    side: 'call',
    exercise: 'european',
    model: 'spot',
    underlying: 100,
    strike: 100,
    years: 1,
    rate: 0.03,
    dividendYield: 0.01,
  };
  const priced = await ask('/api/v1/price', { body: { contracts: [{ ...contract, volatility: 0.31 }] } });
  const [{ price }] = ((await priced.json()) as { results: { price: number }[] }).results;
  const prices = [price, 'NaN', 'Infinity', '-Infinity', 0.5, 100];
  const reply = await ask('/api/v1/implied-volatility', {
    body: { contracts: prices.map((p) => ({ ...contract, price: p })) },
  });
  const { results } = (await reply.json()) as { results: { volatility?: number; error?: string }[] };
  expect(results[0].volatility).toBeCloseTo(0.31, 12);
  expect(results.slice(1).map((r) => r.error)).toEqual([
    'not-a-number',
    'above-bound',
    'below-intrinsic',
    'below-intrinsic',
    'above-bound',
  ]);
});

test('surface/fit answers in the fixed shape and names rejects', async () => {
  const strikes = [80, 85, 90, 95, 100, 105, 110, 115, 120];
  const contracts = (side: string) =>
    strikes.map((strike) => ({
      side,
      exercise: 'european',
      model: 'spot',
      underlying: 100,
      strike,
      years: 0.5,
      rate: 0.02,
      volatility: 0.2 + 0.0004 * (100 - strike) + 0.00002 * (100 - strike) ** 2,
    }));
  const reply = await ask('/api/v1/price', {
    body: { contracts: [...contracts('call'), ...contracts('put')] },
  });
  const prices = ((await reply.json()) as { results: { price: number }[] }).results.map((r) => r.price);
  const callBid: (number | null)[] = prices.slice(0, 9).map((p) => p - 0.02);
  const callAsk = prices.slice(0, 9).map((p) => p + 0.02);
  const putBid = prices.slice(9).map((p) => p - 0.02);
  const putAsk: (number | null)[] = prices.slice(9).map((p) => p + 0.02);
  [callBid[6], callAsk[6]] = [callAsk[6] + 0.1, callBid[6] ?? 0];
  putAsk[1] = null;
  const fit = await ask('/api/v1/surface/fit', {
    body: { underlying: 100, slices: [{ years: 0.5, strikes, callBid, callAsk, putBid, putAsk }] },
  });
  const body = (await fit.json()) as {
    slices: {
      forward: number;
      discountFactor: number;
      atm: number;
      rejected: object[];
      arbitrageFree: boolean;
      smile: { insideMarket: number };
    }[];
    index30: number | null;
  };
  expect(body.slices[0].forward).toBeCloseTo(100 * Math.exp(0.01), 3);
  expect(body.slices[0].discountFactor).toBeCloseTo(Math.exp(-0.01), 4);
  // The smile is read where the strike equals the forward, a point above 100.
  const above = body.slices[0].forward - 100;
  expect(body.slices[0].atm).toBeCloseTo(0.2 - 0.0004 * above + 0.00002 * above ** 2, 3);
  expect(body.slices[0].rejected).toEqual([
    { strike: 110, side: 'call', reason: 'crossed' },
    { strike: 85, side: 'put', reason: 'no-ask' },
  ]);
  expect(body.slices[0]).toMatchObject({ arbitrageFree: true, smile: { insideMarket: 1 } });
  expect(body.index30).toBeNull();
});

test('a chain answers the same theory as JSON, as CSV and when its contract is priced, and each names the method', async () => {
  interface Quote {
    strike: number;
    side: string;
    theory: number;
    contractVolatility: number;
    method: string;
    level: string;
  }
  interface Chain {
    expiry: {
      years: number;
      impliedRate: number;
      exercisedInto: { spot: number; dividendYield: number; dividends: { time: number; amount: number }[] };
    };
    quotes: Quote[];
  }
  const address = '/api/v1/underlyings/KELPA/chain?expiry=2031-06-20';
  const { expiry, quotes } = (await (await ask(address)).json()) as Chain;
  const [head, ...lines] = (await (await ask(`${address}&format=csv`)).text()).trim().split(/\r?\n/);
  const columns = head.split(',');
  expect(lines).toHaveLength(quotes.length);
  const { spot, dividendYield, dividends } = expiry.exercisedInto;
  expect(dividends.length).toBeGreaterThan(0);
  const contracts = quotes.map((q) => ({
    side: q.side,
    exercise: 'american',
    model: 'spot',
    underlying: spot,
    strike: q.strike,
    years: expiry.years,
    rate: expiry.impliedRate,
    dividendYield,
    dividends: dividends.map((d) => ({ years: d.time, amount: d.amount })),
    volatility: q.contractVolatility,
  }));
  const priced = await ask('/api/v1/price', { body: { accuracy: 'fast', contracts } });
  const { results } = (await priced.json()) as { results: { price: number; method: string; level: string }[] };
  quotes.forEach((q, i) => {
    const cells = lines[i].split(',');
    const cell = (name: string) => cells[columns.indexOf(name)];
    expect(Number(cell('theory'))).toBeCloseTo(q.theory, 12);
    expect([cell('method'), cell('level')]).toEqual([q.method, q.level]);
    expect([results[i].method, results[i].level]).toEqual([q.method, q.level]);
    // The same grids: nothing but rounding lies between.
    expect(Math.abs(results[i].price - q.theory) / q.strike).toBeLessThan(1e-9);
  });
});

test('theory under a borrowed smile has values where a link covers, and says why where there is none', async () => {
  const chain = () => ask('/api/v1/underlyings/VFUND/chain?volatilitySource=borrowed');
  const none = await chain();
  expect(none.status).toBe(422);
  expect(await none.json()).toMatchObject({ type: 'nothing-borrowed' });
  const link = await ask('/api/v1/underlyings/VFUND/borrow', {
    method: 'PUT',
    body: { donor: 'VM50', kind: 'total', shift: 0, ratio: 1 },
  });
  expect(link.ok).toBe(true);
  const answer = (await (await chain()).json()) as {
    expiry: { date: string };
    quotes: { strike: number; theory: number | null; theoryVolatility: number | null; probabilityItm: number | null }[];
  };
  expect(answer.quotes.length).toBeGreaterThan(5);
  const lender = (await (await ask(`/api/v1/underlyings/VM50/chain?expiry=${answer.expiry.date}`)).json()) as {
    quotes: { theoryVolatility: number }[];
  };
  const levels = lender.quotes.map((q) => q.theoryVolatility);
  for (const q of answer.quotes) {
    expect(q.theory, String(q.strike)).toBeGreaterThan(0);
    expect(q.theoryVolatility, String(q.strike)).toBeGreaterThan(0.5 * Math.min(...levels));
    expect(q.theoryVolatility, String(q.strike)).toBeLessThan(2 * Math.max(...levels));
    expect(q.probabilityItm, String(q.strike)).toBeGreaterThanOrEqual(0);
  }
  expect((await ask('/api/v1/underlyings/VFUND/borrow', { method: 'DELETE' })).status).toBe(204);
  expect((await chain()).status).toBe(422);
});

test('wrong requests get problem documents that name the field', async () => {
  const missing = await ask('/api/v1/underlyings/NOBODY/term');
  expect(missing.status).toBe(404);
  expect(missing.headers.get('content-type')).toContain('application/problem+json');
  const bad = await ask('/api/v1/surface/fit', {
    body: {
      underlying: 100,
      slices: [{ years: 1, strikes: [90, 80], callBid: [1], callAsk: [1, 2], putBid: [1, 2], putAsk: [1, 2] }],
    },
  });
  expect(bad.status).toBe(400);
  const { errors } = (await bad.json()) as { errors: { path: string }[] };
  expect(errors.map((e) => e.path)).toEqual(expect.arrayContaining(['slices[0].callBid', 'slices[0].strikes[1]']));
  const text = await ask('/api/v1/price', {
    body: 'not json',
    headers: { 'content-type': 'application/json' },
  });
  expect(text.status).toBe(400);
  const page = await ask('/skew/VM50');
  expect(page.headers.get('content-security-policy')).toContain("script-src 'self'");
});

test('structures and hedges: answered as the contract says, refused by path and by type', async () => {
  const evaluate = (data: unknown) => ask('/api/v1/structures/evaluate', { body: data });
  const leg = { kind: 'option', side: 'call', strike: 100, years: 0.25, quantity: 1, price: 4 };
  const numbers = { underlying: 100, rate: 0.02, volatility: 0.2, multiplier: 100, legs: [leg] };
  const single = (await (await evaluate(numbers)).json()) as Record<string, unknown>;
  expect(single).toMatchObject({ name: 'single', cost: 400, maxProfit: null, maxLoss: 400, breakEvens: [104] });
  // At its expiry, and without volatility, figures are numbers still.
  for (const change of [{ years: 0 }, { volatility: 0 }]) {
    const answer = await evaluate({ ...numbers, legs: [{ ...leg, ...change }] });
    expect(answer.status).toBe(200);
    const { greeks, probabilityOfProfit } = (await answer.json()) as {
      greeks: { delta: number };
      probabilityOfProfit: number;
    };
    expect(Number.isFinite(greeks.delta)).toBe(true);
    expect(Number.isFinite(probabilityOfProfit)).toBe(true);
  }
  const refused = async (data: unknown, status: number, paths: string[]) => {
    const answer = await evaluate(data);
    expect(answer.status).toBe(status);
    const { errors } = (await answer.json()) as { errors: { path: string }[] };
    expect(errors.map((e) => e.path)).toEqual(paths);
  };
  await refused({ ...numbers, legs: [{ ...leg, quantity: 'many' }] }, 400, ['legs[0].quantity']);
  const listed = { kind: 'option', expiry: '2031-04-18', strike: 4600, side: 'put', quantity: 1 };
  await refused({ symbol: 'VM50', legs: [listed, { ...listed, strike: 4601 }] }, 422, ['legs[1].strike']);
  await refused({ symbol: 'VM50', legs: [{ ...listed, expiry: '2031-04-19' }] }, 422, ['legs[0].expiry']);
  expect((await evaluate({ symbol: 'NOBODY', legs: [listed] })).status).toBe(404);

  const solve = (data: unknown) => ask('/api/v1/hedges/solve', { body: data });
  const position = { delta: -300, gamma: -100, vega: -80 };
  const option = { name: 'a', delta: 0.2, gamma: 0.1, vega: 0.1 };
  const told = async (data: object) => {
    const answer = await solve({ position, ...data });
    return [answer.status, ((await answer.json()) as { type?: string }).type];
  };
  expect(await told({ instruments: [option], neutralize: ['gamma'] })).toEqual([200, undefined]);
  expect(await told({ instruments: [option], neutralize: ['gamma', 'vega'] })).toEqual([422, 'hedge-inconsistent']);
  const two = [option, { ...option, name: 'b' }];
  expect(await told({ instruments: two, neutralize: ['gamma'] })).toEqual([422, 'hedge-underdetermined']);
  expect((await solve({ position, instruments: [option], neutralize: ['theta'] })).status).toBe(400);
});
