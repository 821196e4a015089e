import { listImportsRoute } from '$lib/api/contract/files';
import { handle } from '$lib/server/api/handle';
import { importsOf } from '$lib/server/imports/list-imports';

export const GET = handle(listImportsRoute, async ({ event }) => ({
  imports: (await importsOf(event.locals.connection.database, event.locals.owner)).map((row) => ({
    ...row,
    refusal: row.refusal?.message ?? null,
  })),
}));
