import type { RequestHandler } from './$types';
import { smileLink } from '$lib/api/borrow';
import { requestedPicture } from '$lib/server/http/picture-request';
import { problem } from '$lib/server/http/problem';
import { readJson } from '$lib/server/http/read-json';
import { borrowOf, dropLink, keepLink } from '$lib/server/services/borrow';

export const GET: RequestHandler = async ({ locals, params, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  return Response.json(await borrowOf(locals.connection.database, locals.owner, found.picture));
};

export const PUT: RequestHandler = async ({ locals, params, request }) => {
  const body = await readJson(request, smileLink);
  if (!body.ok) return body.response;
  const kept = await keepLink(locals.connection.database, locals.owner, params.symbol, body.data);
  if (kept.ok) return Response.json(body.data);
  if (kept.reason === 'unknown-underlying')
    return problem(404, 'not-found', { detail: `no underlying ${params.symbol}` });
  const message =
    kept.reason === 'cycle'
      ? `${kept.chain.join(' borrows from ')}: a smile cannot be borrowed from itself; choose another donor`
      : `no underlying ${body.data.donor}`;
  return problem(422, 'invalid-request', { detail: message, errors: [{ path: 'donor', message }] });
};

export const DELETE: RequestHandler = async ({ locals, params }) => {
  await dropLink(locals.connection.database, locals.owner, params.symbol);
  return new Response(null, { status: 204 });
};
