import { clearRefusedRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { clearRefused } from '$lib/server/imports/list-imports';

export const DELETE = handle(clearRefusedRoute, async ({ event }) => ({
  cleared: await clearRefused(event.locals.connection.database, event.locals.owner),
}));
