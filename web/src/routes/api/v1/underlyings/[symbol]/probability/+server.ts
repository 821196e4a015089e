import { probabilityRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { askedOdds } from '$lib/server/http/asked-odds';
import { oddsOf } from '$lib/server/services/odds';

export const GET = handle(probabilityRoute, async ({ parameters, query, event }) => {
  const found = await askedOdds(event, parameters.symbol, query);
  if (!found.ok) return found.response;
  return { results: await oddsOf(event.locals.connection.database, found.asked, query) };
});
