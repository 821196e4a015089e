import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, test, vi } from 'vitest';
import { compressed } from '../src/lib/server/http/compress.ts';

/* What leaves this machine is compressed where that pays; what is compressed is what was to be sent. */

const asking = (encodings = 'gzip, deflate, br') =>
  new Request('http://umwelt.test/', { headers: { 'accept-encoding': encodings } });
const answer = (body: BodyInit, type = 'application/json') => new Response(body, { headers: { 'content-type': type } });
const LONG = JSON.stringify(Array.from({ length: 4000 }, (_, i) => i * 1.37));
const encodingOf = async (o: { response?: Response; address?: string; encodings?: string }) =>
  (await compressed(asking(o.encodings), o.response ?? answer(LONG), o.address ?? '192.0.2.7')).headers.get(
    'content-encoding',
  );

test('text in pieces of any size comes out whole, compressed from 8 kB on', async () => {
  const pieces = fc.array(fc.uint8Array({ maxLength: 5000 }), { maxLength: 12 });
  await fc.assert(
    fc.asyncProperty(pieces, async (list) => {
      const body = new ReadableStream<Uint8Array>({
        start(controller) {
          for (const piece of list) controller.enqueue(piece);
          controller.close();
        },
      });
      const response = await compressed(asking(), answer(body as BodyInit, 'text/csv; charset=utf-8'), '192.0.2.7');
      const sent = Buffer.from(await response.arrayBuffer());
      const whole = Buffer.concat(list);
      expect(response.headers.get('content-encoding')).toBe(whole.length > 8192 ? 'gzip' : null);
      expect(Buffer.compare(whole.length > 8192 ? gunzipSync(sent) : sent, whole)).toBe(0);
    }),
    { numRuns: 60 },
  );
});

test('a page is compressed for everybody who takes that, a tunnel and a server in front among them', async () => {
  const page = `<!doctype html>${LONG}`;
  const html = (text: string) =>
    new Response(text, { headers: { 'content-type': 'text/html', 'content-length': String(Buffer.byteLength(text)) } });
  const sent = await compressed(asking(), html(page), '127.0.0.1');
  const bytes = Buffer.from(await sent.arrayBuffer());
  expect([...['content-encoding', 'vary', 'content-length'].map((name) => sent.headers.get(name))]).toEqual([
    'gzip',
    'accept-encoding',
    String(bytes.length),
  ]);
  expect(gunzipSync(bytes).toString()).toBe(page);
  expect(await encodingOf({ response: html(page), encodings: 'identity' })).toBeNull();
  const short = await compressed(asking(), html('<p>short</p>'), '127.0.0.1');
  expect([short.headers.get('content-encoding'), await short.text()]).toEqual([null, '<p>short</p>']);
});

describe('as it is goes', () => {
  test.each(['127.0.0.1', '::1', '::ffff:127.0.0.1'])('what stays on this machine, at %s', async (address) => {
    expect(await encodingOf({ address })).toBeNull();
  });
  test('what the client does not take compressed, what has no end, and what is no text', async () => {
    expect(await encodingOf({})).toBe('gzip');
    expect(await encodingOf({ encodings: 'br' })).toBeNull();
    expect(await encodingOf({ response: answer(LONG, 'text/event-stream') })).toBeNull();
    expect(await encodingOf({ response: answer(LONG, 'application/vnd.apache.parquet') })).toBeNull();
    expect(await encodingOf({ response: new Response(null, { status: 204 }) })).toBeNull();
  });
});

test('a client that leaves ends what is made for it', async () => {
  let isEnded = false;
  const endless = new ReadableStream<Uint8Array>({
    pull: (controller) => controller.enqueue(new Uint8Array(4096).fill(65)),
    cancel: () => {
      isEnded = true;
    },
  });
  const response = await compressed(asking(), answer(endless as BodyInit, 'text/csv'), '192.0.2.7');
  const reader = response.body?.getReader();
  await reader?.read();
  await reader?.cancel();
  await vi.waitFor(() => expect(isEnded).toBe(true));
});
