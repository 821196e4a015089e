import { shelfImportRoute } from '$lib/api/contract/structures';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { keepStructures, shelfOf } from '$lib/server/services/shelf';

export const POST = handle(shelfImportRoute, async ({ body, event }) => {
  const { connection, owner } = event.locals;
  const read = shelfOf(body.text);
  if (!read.ok)
    return problem(422, 'invalid-request', {
      errors: read.troubles.map(({ row, path, message }) => ({ path: `row ${row}${path && ` ${path}`}`, message })),
    });
  const kept = await keepStructures(connection.database, owner, read.requests);
  return kept.ok ? { kept: kept.kept } : problem(422, 'invalid-request', { detail: kept.reason });
});
