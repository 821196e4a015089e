import { skewHistoryRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { skewHistoryOf } from '$lib/server/services/skew-history';

export const GET = handle(skewHistoryRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  return found.ok ? skewHistoryOf(connection.database, found.stored, found.instant, query.days) : found.response;
});
