import { skewRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET = handle(skewRoute, async ({ parameters, query, event }) => {
  const found = await requestedPicture(event.locals.connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { underlying, asOf, price, expiries } = found.picture;
  const shown = expiries.filter((e) => query.expiry === undefined || e.date === query.expiry);
  return { symbol: underlying.symbol, asOf, price, expiries: shown };
});
