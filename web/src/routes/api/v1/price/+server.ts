import { priceRoute } from '$lib/api/contract/pricing';
import { handle } from '$lib/server/api/handle';
import { rowStream } from '$lib/server/http/row-stream';

export const POST = handle(priceRoute, ({ event }) => rowStream(event.request, 'price', event.locals.left));
