import { measuresRoute } from '$lib/api/contract/views';
import { measuredOf } from '$lib/measures';
import { handle } from '$lib/server/api/handle';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET = handle(measuresRoute, async ({ parameters, query, event }) => {
  const found = await requestedPicture(event.locals.connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { picture } = found;
  return { symbol: picture.underlying.symbol, asOf: picture.asOf, ...measuredOf({ picture, context: query }) };
});
