import { importTableRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { importProblem } from '$lib/server/http/import-problem';
import { problem } from '$lib/server/http/problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { importTable } from '$lib/server/imports/import-table';

/** The file is the body, or was uploaded before: CSV, JSON, a workbook, Parquet or, for events, iCalendar. Chains have an import of their own. */
export const POST = handle(importTableRoute, ({ parameters: { table }, query, event: { locals, request } }) => {
  const { upload, ...options } = query;
  return withReceivedFiles(request, { upload, left: locals.left }, async ([file], connection, signal) => {
    const outcome = await importTable(connection, locals.owner, { table, file, options, signal });
    if (outcome.ok) {
      const { id, rows, changed, underlyings } = outcome;
      return Response.json({ table, id, rows, changed, underlyings });
    }
    if (outcome.reason === 'unreadable') return importProblem(outcome.failure);
    const [first] = outcome.problems;
    const where = first.row === 0 ? 'in the file as a whole' : `in row ${first.row}`;
    return problem(422, 'import-rejected', {
      detail: `${outcome.problems.length} wrong, the first ${where}: ${first.column} ${first.remedy}.`,
      more: { reason: 'bad-rows', problems: outcome.problems },
    });
  });
});
