import type { z } from 'zod';
import { issueDetails } from '../../api/issue-details.ts';
import { problem, tooLarge } from './problem.ts';
import { readText } from './read-text.ts';

/** Body of a request checked by a schema, or the problem document to answer with. */
export async function readJson<T extends z.ZodType>(
  request: Request,
  schema: T,
): Promise<{ ok: true; data: z.infer<T> } | { ok: false; response: Response }> {
  const text = await readText(request);
  if (text === undefined) return { ok: false, response: tooLarge() };
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    return { ok: false, response: problem(400, 'malformed-json', { detail: 'send one JSON document' }) };
  }
  const parsed = schema.safeParse(body);
  if (!parsed.success)
    return { ok: false, response: problem(400, 'invalid-request', { errors: issueDetails(parsed.error) }) };
  return { ok: true, data: parsed.data };
}
