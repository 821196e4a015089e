import { readyRoute } from '$lib/api/contract/work';
import { handle } from '$lib/server/api/handle';
import { missingParts } from '$lib/server/services/readiness';

/** Whether pages can be served, and what is missing; long work may wait for a worker meanwhile. */
export const GET = handle(readyRoute, async ({ event }) => {
  const missing = await missingParts(event.locals.connection);
  const isReady = missing.every((part) => part === 'worker');
  const headers = { 'cache-control': 'no-store' };
  return Response.json({ status: isReady ? 'ready' : 'not-ready', missing }, { status: isReady ? 200 : 503, headers });
});
