import { tradesRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { tradesOf } from '$lib/server/services/traded';

export const GET = handle(tradesRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  return found.ok ? tradesOf(connection.database, found.stored, found.instant) : found.response;
});
