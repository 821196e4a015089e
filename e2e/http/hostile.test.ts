import { expect, test } from 'vitest';
import { address, ask, processes } from './ask.ts';
import { API, csv, HEADER, HOSTILE_REQUESTS, json } from './hostile-requests.ts';
import { rawRequest } from './raw-request.ts';

for (const { what, status, type, says, ...request } of HOSTILE_REQUESTS) {
  test(`${what}: ${status}${type ? ` ${type}` : ''}`, async () => {
    const answer = await rawRequest(address, request);
    expect(answer.status, answer.text.slice(0, 300)).toBe(status);
    expect(answer.headers['x-content-type-options']).toBe('nosniff');
    expect(answer.headers['cache-control']).toBeDefined();
    if (says && !type) expect(answer.text).toMatch(says);
    if (!type) return;
    expect(answer.headers['content-type']).toBe('application/problem+json');
    expect(JSON.parse(answer.text)).toMatchObject({ status, type });
    if (says) expect(answer.text).toMatch(says);
  });
}

const KEPT = `${API}/structures/kept/00000000-0000-4000-8000-000000000000`;
const MEGABYTE = 1 << 20;
const filled = (piece: string, bytes: number) => piece.repeat(Math.ceil(bytes / piece.length));
/** A table of a workbook with more rows than one may have, or with rows that are none. */
const workbook = (rows: string) => `{"name":"x","header":["a"],"rows":[${rows}]}`;

test.each<[string, string, string, () => string, number, RegExp]>([
  [
    'a megabyte of a Shelf of another kind',
    'POST',
    `${API}/structures/kept/import`,
    () => JSON.stringify({ text: `[${filled('1,', 900_000)}1]` }),
    422,
    /at most 1000/,
  ],
  [
    'a Shelf whose every row is wrong',
    'POST',
    `${API}/structures/kept/import`,
    () => JSON.stringify({ text: `[${filled('{},', 2700)}{}]` }),
    422,
    /row 1 /,
  ],
  [
    'more of a Shelf than may be kept',
    'POST',
    `${API}/structures/kept/import`,
    () => filled('[1],', 2 * MEGABYTE),
    413,
    /at most 1048576/,
  ],
  ['sixty megabytes for a name', 'PUT', KEPT, () => `[${filled('[1],', 62 * MEGABYTE)}[1]]`, 413, /at most 65536/],
  [
    'sixty megabytes of a workbook',
    'POST',
    `${API}/tables/xlsx`,
    () => workbook(`${filled('[1],', 60 * MEGABYTE)}[1]`),
    400,
    /more than 4,200,000 values/,
  ],
  [
    'a workbook with too many rows',
    'POST',
    `${API}/tables/xlsx`,
    () => workbook(`${filled('[1],', 200_000)}[1]`),
    400,
    /rows/,
  ],
  [
    'a workbook of nothing but what it may not hold',
    'POST',
    `${API}/tables/xlsx`,
    () => workbook(`${filled('{},', 6 * MEGABYTE)}{}`),
    400,
    /"errorCount":200/,
  ],
  ['lists within lists', 'POST', `${API}/price`, () => filled('[', 10 * MEGABYTE), 400, /24 deep/],
  ['the same for a name', 'PUT', KEPT, () => filled('[', 10 * MEGABYTE), 413, /at most 65536/],
  ['a few lists within lists for a name', 'PUT', KEPT, () => filled('[', 1000), 400, /24 deep/],
  [
    'quotes of text in place of numbers',
    'POST',
    `${API}/surface/fit`,
    () => `{"underlying":1,"slices":[{"years":1,"strikes":[${filled('"a",', 5 * MEGABYTE)}"a"]}]}`,
    400,
    /strikes\[0\]/,
  ],
])('%s is refused in few words while others are answered', async (_what, method, path, body, status, says) => {
  let isAnswered = false;
  const asked = rawRequest(address, { method, path, headers: json, body: body() }).finally(() => (isAnswered = true));
  let healthy = 0;
  while (!isAnswered) {
    expect((await ask(`${API}/health`)).status).toBe(200);
    healthy++;
  }
  const answer = await asked;
  expect(answer.status, answer.text.slice(0, 300)).toBe(status);
  expect(answer.headers['content-type']).toBe('application/problem+json');
  expect(answer.text).toMatch(says);
  expect(answer.text.length).toBeLessThan(10_000);
  expect(healthy).toBeGreaterThan(0);
});

test('a client that leaves in the middle of slow rows ends neither the server nor the turns of others', async () => {
  const slow = {
    side: 'put',
    exercise: 'american',
    model: 'spot',
    underlying: 100,
    strike: 105,
    years: 1,
    rate: 0.03,
    volatility: 0.3,
    dividends: [{ years: 0.4, amount: 2 }],
  };
  const server = (await processes()).find((p) => p.kind === 'server')?.pid;
  const send = (rows: object[], abortAfter?: number) =>
    rawRequest(address, {
      method: 'POST',
      path: `${API}/price`,
      headers: json,
      body: JSON.stringify({ accuracy: 'exact', contracts: rows }),
      abortAfter,
    });
  const { volatility: _, ...priced } = { ...slow, price: 12 };
  for (const [path, row] of Object.entries({ price: slow, 'implied-volatility': priced })) {
    const rows = Array.from({ length: 5 }, () => row);
    await expect(
      rawRequest(address, {
        method: 'POST',
        path: `${API}/${path}`,
        headers: json,
        body: JSON.stringify({ accuracy: 'exact', contracts: rows }),
        abortAfter: 100,
      }),
    ).rejects.toThrow('left');
  }
  // Twenty thousand slow rows are under way; a plain one is answered all the same.
  const many = send(
    Array.from({ length: 20_000 }, () => slow),
    4000,
  ).catch((error: Error) => error.message);
  const plain = await send([{ ...slow, exercise: 'european', dividends: undefined }]);
  expect((JSON.parse(plain.text) as { results: object[] }).results).toHaveLength(1);
  expect(await many).toBe('left');
  expect((await processes()).find((p) => p.kind === 'server')?.pid).toBe(server);
});

test('a client that leaves in the middle of an import ends it: nothing is stored, and its upload stays for another try', async () => {
  const rows = Array.from({ length: 150_000 }, (_, i) => {
    const at = new Date(Date.UTC(2029, 0, 1 + Math.floor(i / 1000))).toISOString();
    return `LEFT,${at},100,2031-06-20,call,${1 + (i % 1000)},1,1.2`;
  });
  const sent = await ask('/api/v1/uploads', { body: `${HEADER}\n${rows.join('\n')}`, headers: csv });
  const { id } = (await sent.json()) as { id: string };
  await expect(
    rawRequest(address, {
      method: 'POST',
      path: `${API}/imports/chains?upload=${id}`,
      headers: csv,
      abortAfter: 800,
    }),
  ).rejects.toThrow('left');
  // It is no longer read, and waits for what is done with it next.
  const stage = async () => ((await (await ask(`${API}/uploads/${id}`)).json()) as { stage: string }).stage;
  await expect.poll(stage).toBe('received');
  expect((await ask(`${API}/underlyings/LEFT`)).status).toBe(404);
  await ask(`${API}/uploads/${id}`, { method: 'DELETE' });
});

test('the server lives and can serve: health and ready', async () => {
  expect(JSON.parse((await rawRequest(address, { path: `${API}/health` })).text)).toEqual({ status: 'ok' });
  expect(JSON.parse((await rawRequest(address, { path: `${API}/ready` })).text)).toEqual({
    status: 'ready',
    missing: [],
  });
});
