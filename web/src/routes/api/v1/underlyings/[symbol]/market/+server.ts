import type { RequestHandler } from './$types';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET: RequestHandler = async ({ locals, params, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  return new Response(found.made.text('market'), { headers: { 'content-type': 'application/json' } });
};
