import { expect, test } from 'vitest';
import { address, ask, processes } from './ask.ts';
import { API, csv, HEADER, HOSTILE_REQUESTS, json } from './hostile-requests.ts';
import { rawRequest } from './raw-request.ts';

for (const { what, status, type, says, ...request } of HOSTILE_REQUESTS) {
  test(`${what}: ${status}${type ? ` ${type}` : ''}`, async () => {
    const answer = await rawRequest(address, request);
    expect(answer.status, answer.text.slice(0, 300)).toBe(status);
    expect(answer.headers['x-content-type-options']).toBe('nosniff');
    if (!type) return;
    expect(answer.headers['content-type']).toBe('application/problem+json');
    expect(JSON.parse(answer.text)).toMatchObject({ status, type });
    if (says) expect(answer.text).toMatch(says);
  });
}

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
  for (const path of ['price', 'implied-volatility']) {
    const rows = Array.from({ length: 5 }, () => ({ ...slow, price: 12 }));
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
