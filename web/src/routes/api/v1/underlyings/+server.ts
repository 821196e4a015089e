import type { RequestHandler } from './$types';
import { listResponse } from '$lib/server/http/list-response';
import { listUnderlyings } from '$lib/server/repositories/underlyings';

export const GET: RequestHandler = async ({ locals, request, url }) => {
  const rows = await listUnderlyings(locals.connection.database);
  return listResponse(
    request,
    url,
    'underlyings',
    rows.map(({ id: _id, ...row }) => row),
  );
};
