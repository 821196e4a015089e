import { interestRecordRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { interestRecordOf } from '$lib/server/services/odds-record';

export const GET = handle(interestRecordRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  return interestRecordOf(connection.database, found.stored, found.instant);
});
