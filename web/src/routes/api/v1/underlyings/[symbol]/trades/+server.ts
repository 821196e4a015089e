import type { RequestHandler } from './$types';
import { listResponse, wantsCsv } from '$lib/server/http/list-response';
import { requestedInstant } from '$lib/server/http/traded-request';
import { tradesOf } from '$lib/server/services/traded';

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedInstant(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const answer = await tradesOf(locals.connection.database, found.stored, found.instant);
  if (wantsCsv(request, url)) {
    const rows = answer.trades.map(({ legs, ...row }) => ({
      ...row,
      legs: legs.map((l) => Object.values(l).join(' ')).join('; '),
    }));
    return listResponse(request, url, 'trades', rows);
  }
  return Response.json(answer);
};
