import { hedgeRoute } from '$lib/api/contract/structures';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { answerApart } from '$lib/server/http/read-json';

const REASONS = {
  inconsistent: 'no quantities of these instruments bring all of these sums to nothing',
  underdetermined: 'many quantities do: give every instrument a cost, and the cheapest are taken',
} as const;

export const POST = handle(hedgeRoute, async ({ event: { request, locals } }) => {
  const made = await answerApart(request, 'hedge', { limit: 'kept', lane: 'hedge', left: locals.left });
  if (!made.ok) return made.response;
  const found = made.answer;
  if (found.ok) return found.answer;
  return problem(422, `hedge-${found.reason}`, { detail: REASONS[found.reason] });
});
