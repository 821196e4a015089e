import { healthRoute } from '$lib/api/contract/work';
import { handle } from '$lib/server/api/handle';

/** The process answers; whether it can serve says `/ready`. */
export const GET = handle(healthRoute, ({ event }) => {
  event.setHeaders({ 'cache-control': 'no-store' });
  return { status: 'ok' as const };
});
