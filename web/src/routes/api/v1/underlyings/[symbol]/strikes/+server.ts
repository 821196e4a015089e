import { strikesRoute } from '$lib/api/contract/views';
import { handle } from '$lib/server/api/handle';
import { askedOdds } from '$lib/server/http/asked-odds';
import { strikesFor } from '$lib/server/services/odds';

export const GET = handle(strikesRoute, async ({ parameters, query, event }) => {
  const found = await askedOdds(event, parameters.symbol, query);
  if (!found.ok) return found.response;
  return strikesFor(event.locals.connection.database, found.asked, query);
});
