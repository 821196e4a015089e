import { listUnderlyingsRoute } from '$lib/api/contract/underlyings';
import { handle } from '$lib/server/api/handle';
import { knownUnderlyings } from '$lib/server/services/stored-moments';
import { withoutId } from '$lib/server/services/stored-underlyings';

export const GET = handle(listUnderlyingsRoute, async ({ event }) => ({
  underlyings: (await knownUnderlyings(event.locals.connection.database)).map(withoutId),
}));
