import type { RequestHandler } from './$types';
import { chainPreviewQuery } from '$lib/schema/chain-import';
import { importProblem } from '$lib/server/http/import-problem';
import { issueDetails, problem } from '$lib/server/http/problem';
import { withReceivedFile } from '$lib/server/http/received-file';
import { previewImport } from '$lib/server/imports/preview-import';

/** The file is the body, or was uploaded before; `options` after the user's corrections. */
export const POST: RequestHandler = ({ locals, request, url }) => {
  const query = chainPreviewQuery.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
  const { upload, options: corrections } = query.data;
  return withReceivedFile(request, { upload, left: locals.left }, async (file, connection, signal) => {
    const result = await previewImport(connection.database, locals.owner, { file, corrections, signal });
    return result.ok ? Response.json(result.preview) : importProblem(result.failure);
  });
};
