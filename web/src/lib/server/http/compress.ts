import { isLoopbackAddress } from '../processes/loopback.ts';

/** Answers up to this size take longer to compress than to send. */
const LEAST_BYTES = 8192;
const COMPRESSIBLE = /^(text\/(?!event-stream)|application\/([a-z.+-]*json|jsonl|javascript|xml)|image\/svg)/;

/**
 * The response compressed, where its client is beyond this machine and takes that, and it is text of more than 8 kB; else as it is.
 * Streams go on flowing: no more than the first 8 kB are waited for.
 * @param address of the client
 */
export async function compressed(request: Request, response: Response, address: string): Promise<Response> {
  const { headers } = response;
  if (isLoopbackAddress(address) || !response.body || headers.has('content-encoding')) return response;
  if (!COMPRESSIBLE.test(headers.get('content-type') ?? '')) return response;
  headers.append('vary', 'accept-encoding');
  if (!/\bgzip\b/.test(request.headers.get('accept-encoding') ?? '')) return response;
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
