import { freezeRoute, frozenRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { requestedInstant, requestedPicture } from '$lib/server/http/picture-request';
import { problem, unknownUnderlying } from '$lib/server/http/problem';
import { freezeLevels, frozenUntil } from '$lib/server/services/frozen-levels';
import { knownUnderlying } from '$lib/server/services/stored-moments';
import { isoInZone } from '@umwelt/market/zone';

export const GET = handle(frozenRoute, async ({ parameters, query, event }) => {
  const { connection, owner } = event.locals;
  const found = await requestedInstant(connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const { stored, instant } = found;
  const frozen = await frozenUntil(connection.database, stored, { owner, instant });
  return { symbol: stored.symbol, asOf: isoInZone(instant.getTime(), stored.zone), frozen };
});

export const POST = handle(freezeRoute, async ({ parameters, query, body, event }) => {
  const { connection, owner } = event.locals;
  const found = await requestedPicture(connection, parameters.symbol, query);
  if (!found.ok) return found.response;
  const stored = await knownUnderlying(connection.database, parameters.symbol);
  if (!stored) return unknownUnderlying(parameters.symbol);
  const kept = await freezeLevels(connection.database, stored, { owner, picture: found.picture, request: body });
  if (kept.ok) return kept.set;
  return problem(422, 'invalid-request', {
    detail:
      kept.reason === 'nothing'
        ? `no expiry of ${stored.symbol} has an expected move of that kind at this instant`
        : `as many levels of ${stored.symbol} are kept as there may be: delete some first`,
  });
});
