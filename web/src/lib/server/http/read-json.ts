import type { z } from 'zod';
import { compute } from '../derive/pool.ts';
import type { BodyAnswer, BodyTask } from '../derive/tasks.ts';
import { type JsonBody, readJsonBody } from '../derive/json-body.ts';
import { problem } from './problem.ts';
import { type BodyLimit, receivedBody } from './received-body.ts';

/** What is typed, checked by a schema; or the problem document to answer with. */
export async function readJson<T extends z.ZodType>(
  request: Request,
  schema: T,
): Promise<{ ok: true; data: z.output<T> } | { ok: false; response: Response }> {
  const received = await receivedBody(request, 'typed');
  if (!received.ok) return received;
  const read = readJsonBody(received.bytes, schema);
  return read.type === 'body' ? { ok: true, data: read.data } : { ok: false, response: bodyProblem(read) };
}

/** What is not done with a body in this time is none that anybody needs, milliseconds. */
const LONGEST_COMPUTATION = 120_000;

/**
 * What a worker thread makes of a body, which it reads and checks itself: reading a long one would keep everybody waiting here.
 * @param o.left tells that the client has gone
 */
export async function answerApart<N extends BodyTask>(
  request: Request,
  name: N,
  o: { limit: BodyLimit; lane: string; left: AbortSignal },
): Promise<{ ok: true; answer: BodyAnswer<N> } | { ok: false; response: Response }> {
  const received = await receivedBody(request, o.limit);
  if (!received.ok) return received;
  const late = AbortSignal.timeout(LONGEST_COMPUTATION);
  const signal = AbortSignal.any([o.left, late]);
  try {
    const made = await compute(name, { body: received.bytes } as never, { lane: o.lane, isLong: true, signal });
    const read = made as JsonBody<BodyAnswer<N>>;
    return read.type === 'body' ? { ok: true, answer: read.data } : { ok: false, response: bodyProblem(read) };
  } catch (error) {
    if (late.aborted) return { ok: false, response: tooLong() };
    if (isOutOfMemory(error)) return { ok: false, response: tooMuch() };
    throw error;
  }
}

/** Answer to a body that says nothing. */
export function bodyProblem(read: Exclude<JsonBody<unknown>, { type: 'body' }>): Response {
  if (read.type === 'malformed') return problem(400, 'malformed-json', { detail: read.detail });
  const { errors, errorCount } = read;
  return problem(400, 'invalid-request', { errors, more: errorCount > errors.length ? { errorCount } : {} });
}

const isOutOfMemory = (error: unknown) =>
  error instanceof Error && (error as { code?: unknown }).code === 'ERR_WORKER_OUT_OF_MEMORY';

function tooLong(): Response {
  const detail = `It was not done after ${LONGEST_COMPUTATION / 1000} s and was given up; send less at a time`;
  return problem(504, 'timed-out', { detail });
}

function tooMuch(): Response {
  return problem(413, 'too-large', {
    detail: 'Reading it takes more memory than one request may have; send less at a time',
  });
}
