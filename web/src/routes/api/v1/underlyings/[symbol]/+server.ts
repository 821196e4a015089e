import type { RequestHandler } from './$types';
import { problem } from '$lib/server/http/problem';
import { findUnderlying } from '$lib/server/repositories/underlyings';
import { instantsAround } from '$lib/server/repositories/slices';

export const GET: RequestHandler = async ({ locals, params }) => {
  const { database } = locals.connection;
  const found = await findUnderlying(database, params.symbol);
  if (!found) return problem(404, 'not-found', { detail: `no underlying ${params.symbol}` });
  const { id, ...underlying } = found;
  const around = await instantsAround(database, id, undefined, found.zone);
  return Response.json({ ...underlying, first: around?.first ?? null, latest: around?.latest ?? null });
};
