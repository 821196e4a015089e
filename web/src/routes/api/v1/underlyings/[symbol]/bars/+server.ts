import { barsRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant } from '$lib/server/http/picture-request';
import { barsBefore } from '$lib/server/services/range';
import { isoInZone } from '@umwelt/market/zone';

export const GET = handle(barsRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { stored, instant } = found;
  const bars = await barsBefore(connection.database, stored, { instant, count: query.sessions });
  return { symbol: stored.symbol, asOf: isoInZone(instant.getTime(), stored.zone), bars };
});
