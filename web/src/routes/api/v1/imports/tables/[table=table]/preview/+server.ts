import { previewTableRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { importProblem } from '$lib/server/http/import-problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { previewTable } from '$lib/server/imports/preview-file';

/** What an import of a table would do. */
export const POST = handle(previewTableRoute, ({ parameters: { table }, query, event: { locals, request } }) => {
  const { upload, ...options } = query;
  return withReceivedFiles(request, { upload, left: locals.left }, async ([file], connection, signal) => {
    const result = await previewTable(connection, { table, file, options, signal });
    return result.ok ? Response.json(result.preview) : importProblem(result.failure);
  });
});
