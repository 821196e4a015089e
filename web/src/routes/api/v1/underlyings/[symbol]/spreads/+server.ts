import { spreadsRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { spreadsOf } from '$lib/server/services/traded';

export const GET = handle(spreadsRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  return found.ok ? spreadsOf(connection.database, found.stored, found.instant) : found.response;
});
