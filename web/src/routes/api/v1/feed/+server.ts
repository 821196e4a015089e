import { commandFeedRoute, feedRoute } from '$lib/api/contract/work';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { commandFeed, feedState } from '$lib/server/services/feed-control';

const noFeed = () => problem(404, 'not-found', { detail: 'no feed has run yet; ./start runs one' });

export const GET = handle(
  feedRoute,
  async ({ event }) => (await feedState(event.locals.connection.database)) ?? noFeed(),
);

export const POST = handle(
  commandFeedRoute,
  async ({ body, event }) => (await commandFeed(event.locals.connection.database, body)) ?? noFeed(),
);
