import { oddsRecordRoute } from '$lib/api/contract/views';
import { recordChoice } from '$lib/api/odds-record';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { oddsRecord } from '$lib/server/services/odds-record';

export const GET = handle(oddsRecordRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { stored, instant } = found;
  return oddsRecord(connection.database, stored, {
    ...{ instant, choice: recordChoice.parse(query) },
    signal: event.request.signal,
  });
});
