import { termRoute } from '$lib/api/contract/views';
import { termRows } from '$lib/market';
import { handle } from '$lib/server/api/handle';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET = handle(termRoute, async ({ parameters, query, event }) => {
  const found = await requestedPicture(event.locals.connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { underlying, asOf, price, term, events, maturities } = found.picture;
  const { atm30, index30, index30Completed, standing, indexStanding } = found.picture;
  const level = { atm30, index30, index30Completed, standing, indexStanding, shape: term, maturities };
  return { symbol: underlying.symbol, asOf, price, ...level, events, term: termRows(found.picture) };
});
