import type { RequestHandler } from './$types';
import { skewTenor } from '$lib/api/skew-history';
import { listResponse, wantsCsv } from '$lib/server/http/list-response';
import { issueDetails } from '$lib/api/issue-details';
import { problem } from '$lib/server/http/problem';
import { requestedInstant } from '$lib/server/http/traded-request';
import { skewHistoryOf } from '$lib/server/services/skew-history';

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedInstant(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const tenor = skewTenor.safeParse(Object.fromEntries(url.searchParams));
  if (!tenor.success) return problem(400, 'invalid-request', { errors: issueDetails(tenor.error) });
  const { days } = tenor.data;
  const answer = await skewHistoryOf(locals.connection.database, found.stored, found.instant, days);
  if (wantsCsv(request, url)) {
    const rows = answer.sessions.map(({ smile: _smile, ...row }) => row);
    return listResponse(request, url, 'skew-history', rows);
  }
  return Response.json(answer);
};
