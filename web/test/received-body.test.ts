import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { z } from 'zod';
import { readJsonBody } from '../src/lib/server/derive/json-body.ts';
import { BODY_LIMITS, type BodyLimit, receivedBody } from '../src/lib/server/http/received-body.ts';

describe('a body on its way in', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());
  const cut: string[] = [];
  /** A sender of pieces at their times, milliseconds, that is told when it is cut off. */
  const sender = (pieces: [number, Uint8Array][], o: { isWhole?: boolean; name?: string } = {}) => {
    let isCut = false;
    return new Request('http://localhost', {
      method: 'POST',
      duplex: 'half',
      body: new ReadableStream<Uint8Array>({
        start(sink) {
          for (const [at, bytes] of pieces) setTimeout(() => isCut || sink.enqueue(bytes), at);
          if (o.isWhole) setTimeout(() => sink.close(), (pieces.at(-1)?.[0] ?? 0) + 1);
        },
        cancel() {
          isCut = true;
          cut.push(o.name ?? '');
        },
      }),
    } as RequestInit);
  };
  const statusOf = async (request: Request, kind: BodyLimit = 'typed') => {
    const received = await receivedBody(request, kind);
    return received.ok ? received.bytes.length : received.response.status;
  };
  const piece = new Uint8Array(100);

  test('is taken whole at its pace, and given up after twenty seconds of silence or two minutes', async () => {
    const steady = statusOf(
      sender(
        [0, 15_000, 30_000].map((at) => [at, piece]),
        { isWhole: true },
      ),
    );
    const silent = statusOf(sender([[0, piece]], { name: 'silent' }));
    const dribbling = statusOf(
      sender(
        Array.from({ length: 20 }, (_, i) => [10_000 * i, piece]),
        { name: 'dribbling' },
      ),
    );
    await vi.advanceTimersByTimeAsync(20_000);
    expect(await silent).toBe(408);
    await vi.advanceTimersByTimeAsync(110_000);
    expect(await steady).toBe(300);
    expect(await dribbling).toBe(408);
    // Who does not stop sending has five seconds to read why.
    await vi.advanceTimersByTimeAsync(5000);
    expect(cut).toEqual(['silent', 'dribbling']);
  });

  test('has the limit of its route, whatever it says of itself, and all together have one', async () => {
    for (const kind of ['typed', 'kept'] as const) {
      const most = new Uint8Array(BODY_LIMITS[kind]);
      const asked = [
        sender([[0, most]], { isWhole: true }),
        sender(
          [
            [0, most],
            [1, piece],
          ],
          { isWhole: true },
        ),
      ];
      const statuses = Promise.all(asked.map((request) => statusOf(request, kind)));
      await vi.advanceTimersByTimeAsync(10);
      expect(await statuses).toEqual([most.length, 413]);
    }
    const large = new Uint8Array(60 * 1024 * 1024);
    const held = Array.from({ length: 5 }, () => statusOf(sender([[0, large]]), 'computed'));
    await vi.advanceTimersByTimeAsync(20_000);
    expect((await Promise.all(held)).sort()).toEqual([408, 408, 408, 408, 503]);
    // Given up, they hold nothing.
    const later = statusOf(sender([[0, large]], { isWhole: true }), 'computed');
    await vi.advanceTimersByTimeAsync(10);
    expect(await later).toBe(large.length);
  });
});

test('a JSON body is read as it is, up to a depth that is counted as a parser nests', () => {
  const read = (text: string) => readJsonBody(new TextEncoder().encode(text), z.unknown());
  const depthOf = (value: unknown): number =>
    typeof value === 'object' && value !== null ? 1 + Math.max(0, ...Object.values(value).map(depthOf)) : 0;
  fc.assert(
    fc.property(fc.json({ maxDepth: 40, noUnicodeString: false }), fc.nat(30), (text, around) => {
      const nested = `${'[['.repeat(around)}${text}${']]'.repeat(around)}`;
      const value: unknown = JSON.parse(nested);
      const body = read(nested);
      if (depthOf(value) <= 24) expect(body).toEqual({ type: 'body', data: value });
      else expect(body).toMatchObject({ type: 'malformed', detail: expect.stringContaining('24 deep') as string });
    }),
    { numRuns: 60 },
  );
  for (const text of ['', '{', '[1', '"a', 'nul', '[1,]'])
    expect(read(text), text).toMatchObject({ type: 'malformed' });
});

test('of a body that is wrong from end to end the first faults are told, with how many there are', () => {
  const schema = z.object({ rows: z.array(z.strictObject({ a: z.number() })).max(100_000) });
  const read = (rows: unknown[]) =>
    readJsonBody(new TextEncoder().encode(JSON.stringify({ rows })), schema) as {
      errors: object[];
      errorCount: number;
    };
  const few = read([{ a: 1 }, { a: 'x' }, { a: 1, b: 2 }]);
  expect(few.errors).toMatchObject([{ path: 'rows[1].a' }, { path: 'rows[2].b' }]);
  const wrong = read(Array.from({ length: 50_000 }, () => ({ b: 'x'.repeat(10) })));
  expect(wrong.errors).toHaveLength(20);
  expect(wrong.errorCount).toBeGreaterThanOrEqual(20);
  // One fault behind many good rows is found as well.
  const last = read([...Array.from({ length: 20_000 }, () => ({ a: 1 })), { a: 'x' }]);
  expect(last).toMatchObject({ errors: [{ path: 'rows[20000].a' }], errorCount: 1 });
});
