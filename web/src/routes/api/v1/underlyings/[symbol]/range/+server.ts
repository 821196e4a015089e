import { rangeRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedPicture } from '$lib/server/http/picture-request';
import { expectedRanges } from '$lib/server/services/range';

export const GET = handle(rangeRoute, async ({ parameters, query, event }) => {
  const found = await requestedPicture(event.locals.connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { picture } = found;
  const expiries = picture.expiries.filter((e) => query.expiry === undefined || e.date === query.expiry);
  return {
    ...{ symbol: picture.underlying.symbol, asOf: picture.asOf, price: picture.price },
    ...(await expectedRanges(picture, {
      dates: expiries.map((e) => e.date),
      coverages: query.coverage,
      days: query.days,
      signal: event.request.signal,
    })),
  };
});
