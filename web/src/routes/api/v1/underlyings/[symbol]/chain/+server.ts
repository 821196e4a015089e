import type { RequestHandler } from './$types';
import { focusExpiry } from '$lib/figures/expiry-choice';
import { volatilityInForce } from '$lib/figures/volatility-in-force';
import { compute } from '$lib/server/compute/pool';
import { listResponse } from '$lib/server/http/list-response';
import { requestedPicture } from '$lib/server/http/picture-request';
import { problem } from '$lib/server/http/problem';

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const { picture, context } = found;
  const wanted = context.expiry;
  const expiry = wanted ? picture.expiries.find((e) => e.date === wanted) : focusExpiry(picture, context);
  if (!expiry) return problem(404, 'not-found', { detail: `no expiry ${wanted} at ${picture.asOf}` });
  const rows = await compute(
    'chain',
    { expiry, inForce: volatilityInForce(picture, context) },
    { lane: `chain ${picture.underlying.symbol}` },
  );
  if (url.searchParams.get('format') === 'csv' || request.headers.get('accept') === 'text/csv') {
    return listResponse(
      request,
      url,
      'quotes',
      rows.map((r) => ({ ...r })),
    );
  }
  const { strikes: _strikes, call: _call, put: _put, ...summary } = expiry;
  return Response.json({
    symbol: picture.underlying.symbol,
    asOf: picture.asOf,
    price: picture.price,
    expiry: summary,
    quotes: rows,
  });
};
