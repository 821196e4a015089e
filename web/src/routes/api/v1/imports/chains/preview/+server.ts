import type { RequestHandler } from './$types';
import { importOptions } from '$lib/schema/chain-import';
import { importProblem } from '$lib/server/http/import-problem';
import { issueDetails, problem } from '$lib/server/http/problem';
import { previewImport } from '$lib/server/services/preview-import';

const MAX_SAMPLE_BYTES = 1 << 18;

/** First bytes of a file as the body; `whole=1` when they are all of it; `options` after the user's corrections. */
export const POST: RequestHandler = async ({ locals, request, url }) => {
  const text = url.searchParams.get('options');
  let json: unknown;
  try {
    json = text === null ? undefined : JSON.parse(text);
  } catch {
    return problem(400, 'malformed-json', { detail: 'the query parameter options must be JSON' });
  }
  const corrections = importOptions.optional().safeParse(json);
  if (!corrections.success) return problem(400, 'invalid-request', { errors: issueDetails(corrections.error) });
  const sample = new Uint8Array(await request.arrayBuffer());
  if (sample.length > MAX_SAMPLE_BYTES)
    return problem(413, 'too-large', { detail: `at most ${MAX_SAMPLE_BYTES} bytes` });
  const isWhole = url.searchParams.get('whole') === '1';
  const result = await previewImport(locals.connection.database, locals.owner, {
    sample,
    isWhole,
    corrections: corrections.data,
  });
  return result.ok ? Response.json(result.preview) : importProblem({ reason: result.reason });
};
