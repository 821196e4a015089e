import { focusExpiry } from '$lib/market';
import { volatilityInForce } from '$lib/theory';
import type { BorrowState } from '$lib/api/borrow';
import { chainRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { borrowOf } from '$lib/server/services/borrow';
import { chainValues } from '$lib/server/services/chain-values';
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

export const GET = handle(chainRoute, async ({ parameters, query, event }) => {
  const { connection, owner } = event.locals;
  const found = await requestedPicture(connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { picture } = found;
  const { symbol } = picture.underlying;
  const wanted = query.expiry;
  const listed = wanted ? picture.expiries.find((e) => e.date === wanted) : focusExpiry(picture, {});
  if (!listed) return problem(404, 'not-found', { detail: `no expiry ${wanted} at ${picture.asOf}` });
  let expiry = listed;
  if (query.volatilitySource === 'borrowed') {
    const { state, expiries } = await borrowOf(connection.database, owner, picture);
    const borrowed = expiries[listed.date];
    if (!borrowed) return problem(422, 'nothing-borrowed', { detail: whyNot(symbol, listed.date, state) });
    expiry = { ...listed, borrowed };
  }
  const quotes = await chainValues(expiry, volatilityInForce(picture, query), {
    lane: `chain ${symbol}`,
    signal: event.request.signal,
  });
  const { strikes: _strikes, call: _call, put: _put, ...summary } = expiry;
  return { symbol, asOf: picture.asOf, price: picture.price, expiry: summary, quotes };
});
