import type { RequestHandler } from './$types';
import { listResponse, wantsCsv } from '$lib/server/http/list-response';
import { requestedPicture } from '$lib/server/http/picture-request';
import { termRows } from '$lib/market';

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const rows = termRows(found.picture);
  if (wantsCsv(request, url)) {
    return listResponse(request, url, 'term', rows);
  }
  const {
    underlying,
    asOf,
    price,
    atm30,
    index30,
    index30Completed,
    standing,
    term: shape,
    events,
    maturities,
  } = found.picture;
  const level = { atm30, index30, index30Completed, standing, shape, maturities };
  return Response.json({ symbol: underlying.symbol, asOf, price, ...level, events, term: rows });
};
