import type { RequestHandler } from './$types';
import { tableImport, tableKind } from '$lib/api/table-export';
import { importProblem } from '$lib/server/http/import-problem';
import { issueDetails } from '$lib/api/issue-details';
import { problem } from '$lib/server/http/problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { importTable } from '$lib/server/imports/import-table';

/** The file is the body, or was uploaded before: CSV, JSON, a workbook, Parquet or, for events, iCalendar. Chains have an import of their own. */
export const POST: RequestHandler = ({ locals, params, request, url }) => {
  const table = tableKind.exclude(['chains']).safeParse(params.table);
  if (!table.success) return problem(404, 'not-found', { detail: 'chains are sent to /imports/chains' });
  const query = tableImport.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
  const { upload, ...options } = query.data;
  return withReceivedFiles(request, { upload, left: locals.left }, async ([file], connection, signal) => {
    const outcome = await importTable(connection, locals.owner, { table: table.data, file, options, signal });
    if (outcome.ok) {
      const { id, rows, changed, underlyings } = outcome;
      return Response.json({ table: table.data, id, rows, changed, underlyings });
    }
    if (outcome.reason === 'unreadable') return importProblem(outcome.failure);
    const [first] = outcome.problems;
    const where = first.row === 0 ? 'in the file as a whole' : `in row ${first.row}`;
    return problem(422, 'import-rejected', {
      detail: `${outcome.problems.length} wrong, the first ${where}: ${first.column} ${first.remedy}.`,
      more: { reason: 'bad-rows', problems: outcome.problems },
    });
  });
};
