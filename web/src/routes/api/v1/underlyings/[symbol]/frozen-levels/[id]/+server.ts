import { thawRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { thawLevels } from '$lib/server/services/frozen-levels';

export const DELETE = handle(thawRoute, async ({ parameters: { symbol, id }, event }) => {
  const { connection, owner } = event.locals;
  if (await thawLevels(connection.database, { owner, symbol, id })) return undefined;
  return problem(404, 'not-found', { detail: `no levels ${id} of ${symbol} are kept` });
});
