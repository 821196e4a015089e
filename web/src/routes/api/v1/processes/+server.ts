import { listProcessesRoute } from '$lib/api/contract/work';
import { handle } from '$lib/server/api/handle';
import { processesOf } from '$lib/server/services/readiness';

export const GET = handle(listProcessesRoute, async ({ event }) => ({
  processes: await processesOf(event.locals.connection),
}));
