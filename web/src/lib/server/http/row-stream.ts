import { randomUUID } from 'node:crypto';
import { compute } from '../derive/pool.ts';
import type { RowsKind, RowsPlan } from '../derive/tasks.ts';
import { bodyProblem } from './read-json.ts';
import { receivedBody } from './received-body.ts';

const JSON_HEADERS = { 'content-type': 'application/json', 'cache-control': 'no-store' };
/** A body above this takes longer to read and check than a turn of other work should wait. */
const LONG_BODY = 1 << 20;

/**
 * Answers a request of many rows from worker threads: the body is read and checked there, and the answer flows to the client
 * as fast as it takes it, in turns with other requests. When the client goes away, the thread stops.
 * @param left tells that the client has gone before the answer has begun
 */
export async function rowStream(request: Request, kind: RowsKind, left?: AbortSignal): Promise<Response> {
  const received = await receivedBody(request, 'computed');
  if (!received.ok) return received.response;
  const body = received.bytes;
  const abort = new AbortController();
  const leave = () => abort.abort();
  left?.addEventListener('abort', leave, { once: true });
  const lane = randomUUID();
  const plan = await compute(
    'rowsPlan',
    { kind, body },
    { lane, isLong: body.length > LONG_BODY, signal: abort.signal },
  );
  if (plan.type !== 'body') return bodyProblem(plan);
  const pieces = answerPieces(kind, plan.data, { lane, signal: abort.signal });
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    async pull(controller) {
      try {
        const { done, value } = await pieces.next();
        if (abort.signal.aborted) return;
        if (done) controller.close();
        else controller.enqueue(encoder.encode(value));
      } catch (error) {
        if (!abort.signal.aborted) throw error;
      }
    },
    cancel: leave,
  });
  return new Response(stream, { headers: JSON_HEADERS });
}

async function* answerPieces(
  kind: RowsKind,
  { parts, accuracy }: RowsPlan,
  o: { lane: string; signal: AbortSignal },
): AsyncGenerator<string> {
  let before = '{"results":[';
  for (const part of parts) {
    for (let from: number | null = 0; from !== null;) {
      const piece: { text: string; next: number | null } = await compute(
        'rowsPiece',
        { kind, part, from, accuracy },
        o,
      );
      yield before + piece.text;
      before = ',';
      from = piece.next;
    }
  }
  yield parts.length === 0 ? `${before}]}` : ']}';
}
