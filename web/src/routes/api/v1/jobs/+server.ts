import { listJobsRoute } from '$lib/api/contract/work';
import { handle } from '$lib/server/api/handle';
import { groupsOf } from '$lib/server/services/jobs';

export const GET = handle(listJobsRoute, async ({ event }) => ({
  groups: await groupsOf(event.locals.connection.database, event.locals.owner),
}));
