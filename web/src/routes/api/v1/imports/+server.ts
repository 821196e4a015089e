import type { RequestHandler } from './$types';
import { listResponse } from '$lib/server/http/list-response';
import { listImports } from '$lib/server/repositories/imports';

export const GET: RequestHandler = async ({ locals, request, url }) => {
  const rows = await listImports(locals.connection.database, locals.owner);
  return listResponse(
    request,
    url,
    'imports',
    rows.map(({ id, fileName, table, rows: count, slices, leftOut, undo, refusal, createdAt }) => ({
      ...{ id, fileName, table, rows: count, slices, leftOut, undo, createdAt },
      refusal: refusal?.message ?? null,
    })),
  );
};
