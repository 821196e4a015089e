import { restoreFrozenRoute, thawRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { restoreLevels, thawLevels } from '$lib/server/services/frozen-levels';

export const DELETE = handle(thawRoute, async ({ parameters: { symbol, id }, event }) => {
  const { connection, owner } = event.locals;
  if (await thawLevels(connection.database, { owner, symbol, id, now: new Date() })) return undefined;
  return problem(404, 'not-found', { detail: `no levels ${id} of ${symbol} are kept` });
});

export const PUT = handle(restoreFrozenRoute, async ({ parameters: { symbol, id }, event }) => {
  const { connection, owner } = event.locals;
  if (await restoreLevels(connection.database, { owner, symbol, id })) return undefined;
  return problem(404, 'not-found', { detail: `no deleted levels ${id} of ${symbol} can be put back` });
});
