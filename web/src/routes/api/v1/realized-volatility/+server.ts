import { realizedVolatilityRoute } from '$lib/api/contract/pricing';
import { handle } from '$lib/server/api/handle';
import { compute } from '$lib/server/derive/pool';

export const POST = handle(realizedVolatilityRoute, async ({ body, event }) => ({
  series: await compute('realizedVolatility', body, { lane: 'realized', isLong: true, signal: event.locals.left }),
}));
