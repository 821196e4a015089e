import type { RequestHandler } from './$types';
import { chainImportQuery } from '$lib/api/chain-import';
import { importProblem } from '$lib/server/http/import-problem';
import { issueDetails } from '$lib/api/issue-details';
import { problem } from '$lib/server/http/problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { jobQueue } from '$lib/server/jobs/job-queue';
import { importChain } from '$lib/server/imports/import-chain';

/** The file is the body, or was uploaded before; how to read it stands in the query's `options` as JSON. */
export const POST: RequestHandler = ({ locals, request, url }) => {
  const query = chainImportQuery.safeParse(Object.fromEntries(url.searchParams));
  if (!query.success) return problem(400, 'invalid-request', { errors: issueDetails(query.error) });
  const { upload, beside, options } = query.data;
  return withReceivedFiles(request, { upload, beside, left: locals.left }, async (files, connection, signal) => {
    const outcome = await importChain(connection, locals.owner, { files, options, signal, queue: jobQueue });
    return outcome.ok ? Response.json(outcome.result) : importProblem(outcome.failure);
  });
};
