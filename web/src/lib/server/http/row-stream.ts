import { MessageChannel } from 'node:worker_threads';
import { computePool } from '../compute/pool.ts';
import type { RowMessage, RowTask } from '../compute/row-task.ts';
import { problem, tooLarge } from './problem.ts';
import { readText } from './read-text.ts';

const JSON_HEADERS = { 'content-type': 'application/json', 'cache-control': 'no-store' };

/**
 * Answers a request of many rows from a worker thread: the text is read and checked there, and the answer flows to the
 * client while it is computed. When the client goes away, the worker stops.
 */
export async function rowStream(request: Request, kind: RowTask['kind']): Promise<Response> {
  const text = await readText(request);
  if (text === undefined) return tooLarge();
  const { port1, port2 } = new MessageChannel();
  const abort = new AbortController();
  const encoder = new TextEncoder();
  return await new Promise<Response>((resolve) => {
    let controller: ReadableStreamDefaultController<Uint8Array> | undefined;
    const body = new ReadableStream<Uint8Array>({
      start: (c) => void (controller = c),
      cancel: () => {
        abort.abort();
        port1.close();
      },
    });
    let isAnswered = false;
    let isEnded = false;
    const answer = (response: () => Response) => {
      if (!isAnswered) resolve(response());
      isAnswered = true;
    };
    port1.on('message', (message: RowMessage) => {
      switch (message.type) {
        case 'malformed':
          return answer(() => problem(400, 'malformed-json', { detail: 'send one JSON document' }));
        case 'invalid':
          return answer(() => problem(400, 'invalid-request', { errors: message.errors }));
        case 'text':
          answer(() => new Response(body, { headers: JSON_HEADERS }));
          return controller?.enqueue(encoder.encode(message.text));
        case 'end':
          isEnded = true;
          controller?.close();
          port1.close();
      }
    });
    const task: RowTask = { kind, text, port: port2 };
    computePool()
      .run(task, { transferList: [port2], signal: abort.signal })
      .catch((error: unknown) => {
        if (abort.signal.aborted || isEnded) return;
        console.error('rows', error);
        port1.close();
        controller?.error(error);
        answer(() => problem(500, 'internal'));
      });
  });
}
