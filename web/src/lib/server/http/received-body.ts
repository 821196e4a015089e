import { letGo } from '../imports/let-go.ts';
import { bodyPieces } from './body-pieces.ts';
import { problem } from './problem.ts';

/** Most bytes of a JSON body: of what is typed, and of what is kept or computed. */
export const BODY_LIMITS = { typed: 64 * 1024, kept: 1024 * 1024, computed: 64 * 1024 * 1024 } as const;
export type BodyLimit = keyof typeof BODY_LIMITS;

/** A sender that sends nothing for so long is given up, and one that is not done after so long, milliseconds. */
const IDLE = 20_000;
const WHOLE = 120_000;
/** Bytes of all bodies together that are on their way in. */
const MOST_AT_ONCE = 256 * 1024 * 1024;

let underWay = 0;

/** Body of a request, received whole; or the problem document to answer with, without reading on. */
export async function receivedBody(
  request: Request,
  kind: BodyLimit,
): Promise<{ ok: true; bytes: Uint8Array } | { ok: false; response: Response }> {
  const limit = BODY_LIMITS[kind];
  const pieces = bodyPieces(request)[Symbol.asyncIterator]();
  const refuse = (response: Response): { ok: false; response: Response } => {
    letGo(pieces);
    return { ok: false, response };
  };
  if (Number(request.headers.get('content-length') ?? 0) > limit) return refuse(tooLarge(limit));
  const whole: Uint8Array[] = [];
  const until = Date.now() + WHOLE;
  let size = 0;
  try {
    for (;;) {
      const next = await within(pieces.next(), Math.min(IDLE, until - Date.now()));
      if (next === 'late') return refuse(tooSlow());
      if (next.done) return { ok: true, bytes: whole.length === 1 ? whole[0] : Buffer.concat(whole) };
      size += next.value.byteLength;
      underWay += next.value.byteLength;
      if (size > limit) return refuse(tooLarge(limit));
      if (underWay > MOST_AT_ONCE) return refuse(tooMany());
      whole.push(next.value);
    }
  } finally {
    underWay -= size;
  }
}

/** Answer to a body over the limit of its route. */
export function tooLarge(limit: number): Response {
  return problem(413, 'too-large', { detail: `at most ${limit} bytes` });
}

function tooSlow(): Response {
  const detail = `Nothing more of the body came for ${IDLE / 1000} s, or it was not whole after ${WHOLE / 1000} s; send it again`;
  return problem(408, 'timed-out', { detail });
}

function tooMany(): Response {
  return problem(503, 'busy', { detail: 'Too many large requests are on their way already. Try again in a moment.' });
}

async function within<T>(promise: Promise<T>, milliseconds: number): Promise<T | 'late'> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<'late'>((resolve) => {
    timer = setTimeout(() => resolve('late'), Math.max(0, milliseconds));
  });
  // One that fails after it was given up concerns nobody.
  promise.catch(() => undefined);
  try {
    return await Promise.race([promise, late]);
  } finally {
    clearTimeout(timer);
  }
}
