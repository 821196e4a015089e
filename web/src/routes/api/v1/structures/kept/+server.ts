import { keepRoute, keptRoute } from '$lib/api/contract/structures';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { keepStructures, shelfOwned } from '$lib/server/services/shelf';

export const GET = handle(keptRoute, async ({ event }) => {
  const { connection, owner } = event.locals;
  return { structures: await shelfOwned(connection.database, owner) };
});

export const POST = handle(keepRoute, async ({ body, event }) => {
  const { connection, owner } = event.locals;
  const kept = await keepStructures(connection.database, owner, [body]);
  return kept.ok ? kept.kept[0] : problem(422, 'invalid-request', { detail: kept.reason });
});
