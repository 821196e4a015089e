import { previewChainRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { importProblem } from '$lib/server/http/import-problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { previewImport } from '$lib/server/imports/preview-import';

/** The file is the body, or was uploaded before; `options` after the user's corrections. */
export const POST = handle(previewChainRoute, ({ query, event: { locals, request } }) => {
  const { upload, beside, options, fileName = options?.fileName } = query;
  return withReceivedFiles(request, { upload, beside, left: locals.left }, async (files, connection, signal) => {
    const name = fileName ?? files[0].name ?? '';
    const result = await previewImport(connection, locals.owner, { files, fileName: name, options, signal });
    return result.ok ? Response.json(result.preview) : importProblem(result.failure);
  });
});
