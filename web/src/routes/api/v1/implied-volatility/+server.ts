import { impliedVolatilityRoute } from '$lib/api/contract/pricing';
import { handle } from '$lib/server/api/handle';
import { rowStream } from '$lib/server/http/row-stream';

export const POST = handle(impliedVolatilityRoute, ({ event }) =>
  rowStream(event.request, 'implied-volatility', event.locals.left),
);
