import type { RequestHandler } from './$types';
import { chainPreviewQuery } from '$lib/api/chain-import';
import { importProblem } from '$lib/server/http/import-problem';
import { issueDetails } from '$lib/api/issue-details';
import { problem } from '$lib/server/http/problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { previewImport } from '$lib/server/imports/preview-import';

/** The file is the body, or was uploaded before; `options` after the user's corrections. */
export const POST: RequestHandler = ({ locals, request, url }) => {
  const query = chainPreviewQuery.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
  const { upload, beside, options, fileName = options?.fileName } = query.data;
  return withReceivedFiles(request, { upload, beside, left: locals.left }, async (files, connection, signal) => {
    const name = fileName ?? files[0].name ?? '';
    const result = await previewImport(connection, locals.owner, { files, fileName: name, options, signal });
    return result.ok ? Response.json(result.preview) : importProblem(result.failure);
  });
};
