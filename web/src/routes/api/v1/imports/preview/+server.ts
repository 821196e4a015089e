import { previewFileRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { importProblem } from '$lib/server/http/import-problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { previewFile } from '$lib/server/imports/preview-file';

/** The file is the body, or was uploaded before; `options` after the user's corrections. */
export const POST = handle(previewFileRoute, ({ query, event: { locals, request } }) => {
  const { upload, beside, options, fileName = options?.fileName } = query;
  return withReceivedFiles(request, { upload, beside, left: locals.left }, async (files, connection, signal) => {
    const name = fileName ?? files[0].name ?? '';
    const result = await previewFile(connection, locals.owner, { files, fileName: name, options, signal });
    return result.ok ? Response.json(result.preview) : importProblem(result.failure);
  });
});
