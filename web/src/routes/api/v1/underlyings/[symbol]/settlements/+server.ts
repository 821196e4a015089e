import { isoInZone } from '@umwelt/market/zone';
import { settlementsRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { settlementsOf } from '$lib/server/services/settlements';

export const GET = handle(settlementsRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { stored, instant } = found;
  const settlements = await settlementsOf(connection.database, stored, { instant, dates: query.ended });
  return { symbol: stored.symbol, asOf: isoInZone(instant.getTime(), stored.zone), settlements };
});
