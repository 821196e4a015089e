import type { Handle, HandleServerError } from '@sveltejs/kit';
import { store } from '$lib/server/services/store';
import { LOCAL_OWNER } from '$lib/server/services/environment';
import { tooLarge } from '$lib/server/http/problem';
import { MAX_BODY_BYTES } from '$lib/server/http/read-text';

export const handle: Handle = async ({ event, resolve }) => {
  const length = Number(event.request.headers.get('content-length') ?? 0);
  const isImport = event.url.pathname === '/api/v1/imports/chains';
  if (length > MAX_BODY_BYTES && !isImport) return tooLarge();
  event.locals.connection = store();
  event.locals.owner = LOCAL_OWNER;
  const response = await resolve(event);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  return response;
};

export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status !== 404) console.error(event.request.method, event.url.pathname, error);
  return { message: status === 404 ? 'There is no such page.' : 'Something went wrong here; the log has the details.' };
};
