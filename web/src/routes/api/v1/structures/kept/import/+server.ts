import { shelfImportRoute } from '$lib/api/contract/structures';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { answerApart } from '$lib/server/http/read-json';
import { keepStructures } from '$lib/server/services/shelf';

export const POST = handle(shelfImportRoute, async ({ event }) => {
  const { connection, owner, left } = event.locals;
  const made = await answerApart(event.request, 'shelf', { limit: 'kept', lane: 'shelf', left });
  if (!made.ok) return made.response;
  const read = made.answer;
  if (!read.ok)
    return problem(422, 'invalid-request', {
      errors: read.troubles.map(({ row, path, message }) => ({ path: `row ${row}${path && ` ${path}`}`, message })),
    });
  const kept = await keepStructures(connection.database, owner, read.requests);
  return kept.ok ? { kept: kept.kept } : problem(422, 'invalid-request', { detail: kept.reason });
});
