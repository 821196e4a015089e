import { cancelJobsRoute, readJobsRoute } from '$lib/api/contract/work';
import { handle } from '$lib/server/api/handle';
import { cancelJobs, readJobs } from '$lib/server/services/jobs';

export const GET = handle(readJobsRoute, ({ parameters: { group }, event }) =>
  readJobs(event.locals.connection.database, event.locals.owner, group),
);

export const DELETE = handle(cancelJobsRoute, async ({ parameters: { group }, event }) => ({
  cancelled: await cancelJobs(event.locals.connection.database, event.locals.owner, group),
}));
