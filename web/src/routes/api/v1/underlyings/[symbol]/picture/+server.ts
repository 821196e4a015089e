import type { RequestHandler } from './$types';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET: RequestHandler = async ({ locals, params, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  return found.ok ? new Response(found.text, { headers: { 'content-type': 'application/json' } }) : found.response;
};
