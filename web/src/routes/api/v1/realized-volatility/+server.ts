import { realizedVolatilityRoute } from '$lib/api/contract/pricing';
import { handle } from '$lib/server/api/handle';
import { answerApart } from '$lib/server/http/read-json';

export const POST = handle(realizedVolatilityRoute, async ({ event: { request, locals } }) => {
  const o = { limit: 'computed', lane: 'realized', left: locals.left } as const;
  const made = await answerApart(request, 'realizedVolatility', o);
  return made.ok ? { series: made.answer } : made.response;
});
