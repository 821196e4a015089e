import { borrowRoute, dropLinkRoute, keepLinkRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedPicture } from '$lib/server/http/picture-request';
import { problem, unknownUnderlying } from '$lib/server/http/problem';
import { borrowOf, dropLink, keepLink } from '$lib/server/services/borrow';

export const GET = handle(borrowRoute, async ({ parameters, query, event }) => {
  const { connection, owner } = event.locals;
  const found = await requestedPicture(connection, parameters.symbol, query);
  return found.ok ? borrowOf(connection.database, owner, found.picture) : found.response;
});

export const PUT = handle(keepLinkRoute, async ({ parameters: { symbol }, body, event }) => {
  const kept = await keepLink(event.locals.connection.database, event.locals.owner, symbol, body);
  if (kept.ok) return body;
  if (kept.reason === 'unknown-underlying') return unknownUnderlying(symbol);
  const message =
    kept.reason === 'cycle'
      ? `${kept.chain.join(' borrows from ')}: a smile cannot be borrowed from itself; choose another donor`
      : `no underlying ${body.donor}`;
  return problem(422, 'invalid-request', { detail: message, errors: [{ path: 'donor', message }] });
});

export const DELETE = handle(dropLinkRoute, async ({ parameters, event }) => {
  await dropLink(event.locals.connection.database, event.locals.owner, parameters.symbol);
  return undefined;
});
