import type { RequestHandler } from './$types';
import { tableImport, tableKind } from '$lib/api/table-export';
import { importProblem } from '$lib/server/http/import-problem';
import { issueDetails } from '$lib/api/issue-details';
import { problem } from '$lib/server/http/problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { previewTable } from '$lib/server/imports/preview-file';

/** What an import of a table would do. */
export const POST: RequestHandler = ({ locals, params, request, url }) => {
  const table = tableKind.exclude(['chains']).safeParse(params.table);
  if (!table.success) return problem(404, 'not-found', { detail: 'chains are sent to /imports/chains/preview' });
  const query = tableImport.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
  const { upload, ...options } = query.data;
  return withReceivedFiles(request, { upload, left: locals.left }, async ([file], connection, signal) => {
    const result = await previewTable(connection, { table: table.data, file, options, signal });
    return result.ok ? Response.json(result.preview) : importProblem(result.failure);
  });
};
