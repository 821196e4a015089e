import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { isLoopbackAddress } from '../processes/loopback.ts';

/** Answers up to this size take longer to compress than to send. */
const LEAST_BYTES = 8192;
const COMPRESSIBLE = /^(text\/(?!event-stream)|application\/([a-z.+-]*json|jsonl|javascript|xml)|image\/svg)/;

/** Pages shrink to a third at once; a better level takes four times as long for a tenth less. */
const PAGE_LEVEL = 2;
const compressPage = promisify(gzip);

/**
 * The response compressed, where its client takes that and it is text of more than 8 kB; else as it is. What is no page stays as it
 * is for a client on this machine. Streams go on flowing: no more than the first 8 kB are waited for.
 * @param address of the client
 */
export async function compressed(request: Request, response: Response, address: string): Promise<Response> {
  const { headers } = response;
  const type = headers.get('content-type') ?? '';
  // A page that is not whole yet has no length.
  const isPage = type.startsWith('text/html') && headers.has('content-length');
  if (!response.body || headers.has('content-encoding')) return response;
  // From this machine itself or through it: a tunnel and a server in front look the same.
  if ((isLoopbackAddress(address) && !isPage) || !COMPRESSIBLE.test(type)) return response;
  headers.append('vary', 'accept-encoding');
  if (!/\bgzip\b/.test(request.headers.get('accept-encoding') ?? '')) return response;
  if (isPage) {
    const whole = Buffer.from(await response.arrayBuffer());
    const isShort = whole.byteLength <= LEAST_BYTES;
    // In a thread of its own.
    const body = isShort ? whole : await compressPage(whole, { level: PAGE_LEVEL });
    if (!isShort) headers.set('content-encoding', 'gzip');
    headers.set('content-length', String(body.byteLength));
    return new Response(body as BodyInit, { status: response.status, statusText: response.statusText, headers });
  }
  const reader = response.body.getReader();
  const begun: Uint8Array[] = [];
  let bytes = 0;
  let isOver = false;
  while (!isOver && bytes <= LEAST_BYTES) {
    const { done, value } = await reader.read();
    isOver = done;
    if (value) begun.push(value);
    bytes += value?.byteLength ?? 0;
  }
  const plain = new ReadableStream<Uint8Array<ArrayBuffer>>({
    start(controller) {
      for (const piece of begun) controller.enqueue(piece as Uint8Array<ArrayBuffer>);
    },
    async pull(controller) {
      const { done, value } = await reader.read();
      if (done) controller.close();
      else controller.enqueue(value as Uint8Array<ArrayBuffer>);
    },
    cancel: (reason) => reader.cancel(reason),
  });
  const { status, statusText } = response;
  if (bytes <= LEAST_BYTES) return new Response(plain, { status, statusText, headers });
  headers.delete('content-length');
  headers.set('content-encoding', 'gzip');
  return new Response(plain.pipeThrough(new CompressionStream('gzip')), { status, statusText, headers });
}
