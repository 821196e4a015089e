import type { RequestHandler } from './$types';
import { skewTenor } from '$lib/schema/skew-history';
import { listResponse } from '$lib/server/http/list-response';
import { requestedInstant } from '$lib/server/http/traded-request';
import { skewHistoryOf } from '$lib/server/services/skew-history';

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedInstant(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const days = skewTenor.parse(url.searchParams.get('days') ?? undefined);
  const answer = await skewHistoryOf(locals.connection.database, found.stored, found.instant, days);
  if (url.searchParams.get('format') === 'csv' || request.headers.get('accept') === 'text/csv') {
    const rows = answer.sessions.map(({ smile: _smile, ...row }) => row);
    return listResponse(request, url, 'skew-history', rows);
  }
  return Response.json(answer);
};
