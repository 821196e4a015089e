import { changeUnderlyingRoute, readUnderlyingRoute, removeUnderlyingRoute } from '$lib/api/contract/underlyings';
import { handle } from '$lib/server/api/handle';
import { problem, unknownUnderlying } from '$lib/server/http/problem';
import { changeUnderlying, removeUnderlying } from '$lib/server/services/change-underlying';
import { underlyingWithBounds, withoutId } from '$lib/server/services/stored-underlyings';

export const GET = handle(readUnderlyingRoute, async ({ parameters: { symbol }, event }) => {
  return (await underlyingWithBounds(event.locals.connection.database, symbol)) ?? unknownUnderlying(symbol);
});

export const PATCH = handle(changeUnderlyingRoute, async ({ parameters: { symbol }, body, event }) => {
  const outcome = await changeUnderlying(event.locals.connection, event.locals.owner, { symbol, change: body });
  if (outcome.ok) return { ...withoutId(outcome.underlying), ...(outcome.job === null ? {} : { job: outcome.job }) };
  switch (outcome.reason) {
    case 'unknown':
      return unknownUnderlying(symbol);
    case 'not-yours':
      return problem(409, 'conflict', { detail: `${symbol} is the demo's own` });
    case 'taken':
      return problem(409, 'invalid-request', {
        errors: [{ path: 'symbol', message: `another underlying is called ${body.symbol}, in this or another case` }],
      });
  }
});

export const DELETE = handle(removeUnderlyingRoute, async ({ parameters: { symbol }, event }) => {
  if (await removeUnderlying(event.locals.connection, symbol)) return undefined;
  return problem(404, 'not-found', { detail: `no imported underlying ${symbol}` });
});
