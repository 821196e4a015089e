import type { z } from 'zod';
import { issueDetails, problem } from './problem.ts';

/** Body of a request checked by a schema, or the problem document to answer with. */
export async function readJson<T extends z.ZodType>(
  request: Request,
  schema: T,
): Promise<{ ok: true; data: z.infer<T> } | { ok: false; response: Response }> {
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    return { ok: false, response: problem(400, 'malformed-json', { detail: 'send one JSON document' }) };
  }
  const parsed = schema.safeParse(body);
  if (!parsed.success)
    return { ok: false, response: problem(400, 'invalid-request', { errors: issueDetails(parsed.error) }) };
  return { ok: true, data: parsed.data };
}
