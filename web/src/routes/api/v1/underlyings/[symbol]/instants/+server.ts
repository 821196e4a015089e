import { listInstantsRoute, removeInstantsRoute } from '$lib/api/contract/underlyings';
import { handle } from '$lib/server/api/handle';
import { problem, unknownUnderlying } from '$lib/server/http/problem';
import { removeInstants } from '$lib/server/services/change-underlying';
import { instantsOf } from '$lib/server/services/stored-underlyings';

export const GET = handle(listInstantsRoute, async ({ parameters: { symbol }, event }) => {
  const instants = await instantsOf(event.locals.connection.database, symbol);
  return instants ? { instants } : unknownUnderlying(symbol);
});

export const DELETE = handle(removeInstantsRoute, async ({ parameters: { symbol }, query, event }) => {
  const instants = query.instant.map((text) => new Date(text));
  const removed = await removeInstants(event.locals.connection.database, symbol, instants);
  return removed
    ? { removed }
    : problem(404, 'not-found', { detail: `nothing that was imported of ${symbol} at these instants` });
});
