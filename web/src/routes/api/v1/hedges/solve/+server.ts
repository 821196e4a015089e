import { hedgeRoute } from '$lib/api/contract/structures';
import { handle } from '$lib/server/api/handle';
import { compute } from '$lib/server/derive/pool';
import { problem } from '$lib/server/http/problem';

const REASONS = {
  inconsistent: 'no quantities of these instruments bring all of these sums to nothing',
  underdetermined: 'many quantities do: give every instrument a cost, and the cheapest are taken',
} as const;

export const POST = handle(hedgeRoute, async ({ body, event }) => {
  const found = await compute('hedge', body, { lane: 'hedge', signal: event.locals.left });
  if (found.ok) return found.answer;
  return problem(422, `hedge-${found.reason}`, { detail: REASONS[found.reason] });
});
