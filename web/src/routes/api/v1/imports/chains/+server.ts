import type { RequestHandler } from './$types';
import { importOptions } from '$lib/schema/chain-import';
import { importProblem } from '$lib/server/http/import-problem';
import { issueDetails, problem } from '$lib/server/http/problem';
import { importChain } from '$lib/server/services/import-chain';

/** The file is the body; how to read it stands in the query's `options` as JSON. */
export const POST: RequestHandler = async ({ locals, request, url }) => {
  let json: unknown;
  try {
    json = JSON.parse(url.searchParams.get('options') ?? '{}');
  } catch {
    return problem(400, 'malformed-json', { detail: 'the query parameter options must be JSON' });
  }
  const options = importOptions.safeParse(json);
  if (!options.success) return problem(400, 'invalid-request', { errors: issueDetails(options.error) });
  // Without a type the body is not handed on at all.
  if (!request.headers.has('content-type'))
    return problem(400, 'invalid-request', { detail: 'say what the body is by a Content-Type, such as text/csv' });
  if (!request.body) return importProblem({ reason: 'empty' });
  const body = request.body as unknown as AsyncIterable<Uint8Array>;
  const outcome = await importChain(locals.connection, locals.owner, body, options.data);
  return outcome.ok ? Response.json(outcome.result) : importProblem(outcome.failure);
};
