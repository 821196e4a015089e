import { importChainRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { importProblem } from '$lib/server/http/import-problem';
import { withReceivedFiles } from '$lib/server/http/received-file';
import { importChain } from '$lib/server/imports/import-chain';
import { jobQueue } from '$lib/server/jobs/job-queue';

/** The file is the body, or was uploaded before; how to read it stands in the query's `options` as JSON. */
export const POST = handle(importChainRoute, ({ query: { upload, beside, options }, event: { locals, request } }) =>
  withReceivedFiles(request, { upload, beside, left: locals.left }, async (files, connection, signal) => {
    const asked = { files, options, signal, queue: jobQueue };
    const outcome = await importChain(connection, locals.owner, asked);
    return outcome.ok ? Response.json(outcome.result) : importProblem(outcome.failure);
  }),
);
