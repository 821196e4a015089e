import type { RequestHandler } from './$types';
import { focusExpiry } from '$lib/market';
import { volatilityInForce } from '$lib/theory';
import type { BorrowState } from '$lib/api/borrow';
import { borrowOf } from '$lib/server/services/borrow';
import { chainValues } from '$lib/server/services/chain-values';
import { listResponse, wantsCsv } from '$lib/server/http/list-response';
import { requestedPicture } from '$lib/server/http/picture-request';
import { problem } from '$lib/server/http/problem';

/** Why a chain has no borrowed smile. */
function whyNot(symbol: string, date: string, state: BorrowState | null): string {
  if (!state) return `${symbol} borrows no smile: PUT underlyings/${symbol}/borrow makes a link`;
  switch (state.trouble) {
    case 'cycle':
      return `the chain of lenders of ${symbol} comes back to itself: ${state.chain.join(', ')}`;
    case 'donor-missing':
      return `${state.link.donor}, of which ${symbol} borrows, is not stored any more`;
    case 'donor-without-quotes':
      return `nothing is stored of ${state.link.donor} at ${symbol}'s instant`;
    case null:
      return `${state.link.donor} has no smile to lend for ${date}`;
  }
}

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const { picture, context } = found;
  const wanted = context.expiry;
  const listed = wanted ? picture.expiries.find((e) => e.date === wanted) : focusExpiry(picture, context);
  if (!listed) return problem(404, 'not-found', { detail: `no expiry ${wanted} at ${picture.asOf}` });
  let expiry = listed;
  if (context.volatilitySource === 'borrowed') {
    const { state, expiries } = await borrowOf(locals.connection.database, locals.owner, picture);
    const borrowed = expiries[listed.date];
    if (!borrowed)
      return problem(422, 'nothing-borrowed', { detail: whyNot(picture.underlying.symbol, listed.date, state) });
    expiry = { ...listed, borrowed };
  }
  const rows = await chainValues(expiry, volatilityInForce(picture, context), {
    lane: `chain ${picture.underlying.symbol}`,
    signal: request.signal,
  });
  if (wantsCsv(request, url)) {
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
