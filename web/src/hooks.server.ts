import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { store } from '$lib/server/processes/store';
import { LOCAL_OWNER } from '$lib/server/processes/environment';
import { compressed } from '$lib/server/http/compress';
import { doorRefusal } from '$lib/server/http/door';
import { problem, type ProblemType } from '$lib/server/http/problem';
import { timeLimitOf } from '$lib/server/http/time-limit';
import { uploadSpool } from '$lib/server/imports/import-service';
import { troubleOf } from '$lib/server/http/trouble';

/** Before the first request: what earlier processes left of uploads goes. */
export const init: ServerInit = () => {
  try {
    uploadSpool();
  } catch (error) {
    // Pages can be read all the same; who uploads is told.
    console.error('uploads', troubleOf(error)?.detail ?? error);
  }
};

/** In which lists and views come; files have formats of their own. */
const FORMATS = ['json', 'csv'];

export const handle: Handle = async ({ event, resolve }) => {
  const { pathname } = event.url;
  const isApi = pathname.startsWith('/api/');
  const refusal = doorRefusal(event.request, event.platform?.req.socket.remoteAddress);
  if (refusal) return refusal;
  const format = event.url.searchParams.get('format');
  if (isApi && format !== null && !FORMATS.includes(format) && !pathname.startsWith('/api/v1/exports/'))
    return problem(400, 'invalid-request', { errors: [{ path: 'format', message: `one of ${FORMATS.join(', ')}` }] });
  event.locals.connection = store();
  event.locals.owner = LOCAL_OWNER;
  const left = new AbortController();
  event.locals.left = left.signal;
  const leave = () => left.abort();
  // In development there is only the request's own signal.
  const socket = event.platform?.req.socket;
  socket?.once('close', leave);
  event.request.signal.addEventListener('abort', leave, { once: true });
  const limit = timeLimitOf(pathname);
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<Response>((answer) => {
    timer = setTimeout(() => {
      leave();
      answer(lateAnswer(isApi, limit));
    }, limit);
  });
  let response = await Promise.race([resolve(event), late]).finally(() => clearTimeout(timer));
  socket?.off('close', leave);
  const isProblem = response.headers.get('content-type') === 'application/problem+json';
  if (isApi && response.status >= 400 && !isProblem && pathname !== '/api/v1/ready')
    response = promised(response.status, event.locals.trouble);
  response = await compressed(event.request, response, event.getClientAddress());
  // What is seen changes with what is stored: it is asked for each time, and kept by nobody in between.
  if (!response.headers.has('cache-control')) response.headers.set('cache-control', 'private, no-cache');
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  return response;
};

function lateAnswer(isApi: boolean, limit: number): Response {
  const detail = `It was not done after ${limit / 60_000} minutes and was given up. Try again when less is going on.`;
  return isApi ? problem(504, 'timed-out', { detail }) : new Response(detail, { status: 504 });
}

/** What the framework answers by itself, as the contract promises it. */
function promised(status: number, trouble: App.Locals['trouble']): Response {
  if (trouble) return problem(trouble.status, trouble.type, { detail: trouble.detail });
  const types: Record<number, [ProblemType, string]> = {
    404: ['not-found', 'there is nothing at this address; /api/v1/openapi.json lists what there is'],
    405: ['invalid-request', 'this address does not take this method; /api/v1/openapi.json lists what it takes'],
    413: ['too-large', 'the body is larger than this address takes'],
  };
  const [type, detail] = types[status] ?? [status < 500 ? 'invalid-request' : 'internal', undefined];
  return problem(status, type, { detail });
}

export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status === 404) return { message: 'There is no such page.' };
  const trouble = troubleOf(error);
  event.locals.trouble = trouble;
  // Who has gone is answered by nobody, and nothing is wrong.
  const hasLeft = event.locals.left?.aborted ?? false;
  if (!trouble && !hasLeft) console.error(event.request.method, event.url.pathname, error);
  return { message: trouble?.detail ?? 'Something went wrong here; the log has the details.' };
};
