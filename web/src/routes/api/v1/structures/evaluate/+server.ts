import { asOfContext } from '$lib/api/as-of-context';
import { structureRoute } from '$lib/api/contract/structures';
import { handle } from '$lib/server/api/handle';
import { compute } from '$lib/server/derive/pool';
import { requestedPicture } from '$lib/server/http/picture-request';
import { problem } from '$lib/server/http/problem';
import { standingOf } from '$lib/server/services/structure-standing';

export const POST = handle(structureRoute, async ({ body, event }) => {
  const { connection, left: signal } = event.locals;
  if (!('symbol' in body)) return compute('structure', body, { lane: 'structure', signal });
  const context = asOfContext.parse({ asOf: body.asOf });
  const found = await requestedPicture(connection, body.symbol, context);
  if (!found.ok) return found.response;
  const { picture } = found;
  const task = { picture, request: body, ...(await standingOf(connection.database, picture, body)) };
  const evaluated = await compute('listedStructure', task, { lane: `structure ${body.symbol}`, signal });
  if (evaluated.ok) return evaluated.evaluation;
  return problem(422, 'invalid-request', {
    errors: evaluated.troubles.map(({ leg, field, message }) => ({ path: `legs[${leg}].${field}`, message })),
  });
});
