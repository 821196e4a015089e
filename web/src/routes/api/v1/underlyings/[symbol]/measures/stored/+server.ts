import { storedMeasuresRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { measuresBefore } from '$lib/server/services/measures-before';

export const GET = handle(storedMeasuresRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  return found.ok ? measuresBefore(connection.database, found.stored, found.instant) : found.response;
});
