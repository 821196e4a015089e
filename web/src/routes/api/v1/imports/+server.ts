import type { RequestHandler } from './$types';
import { listResponse } from '$lib/server/http/list-response';
import { listImports } from '$lib/server/repositories/imports';

export const GET: RequestHandler = async ({ locals, request, url }) => {
  const rows = await listImports(locals.connection.database, locals.owner);
  return listResponse(
    request,
    url,
    'imports',
    rows.map(({ id, fileName, rows: count, slices, createdAt }) => ({ id, fileName, rows: count, slices, createdAt })),
  );
};
