import { changeKeptRoute, dropRoute } from '$lib/api/contract/structures';
import type { KeptStructure } from '$lib/api/kept-structure';
import { handle } from '$lib/server/api/handle';
import { meansThis } from '$lib/server/http/if-match';
import { problem } from '$lib/server/http/problem';
import { dropKept, renameKept } from '$lib/server/services/shelf';

/** Answer where nothing was changed. @param now as it is kept; undefined where it is not */
function unchanged(id: string, now: KeptStructure | undefined): Response {
  if (!now) return problem(404, 'not-found', { detail: `no structure ${id} is kept` });
  const detail = `It was changed meanwhile: it is called “${now.name}” now. Look at it, then send it again with its etag in If-Match`;
  return problem(412, 'changed', { detail, more: { current: now } });
}

export const PUT = handle(changeKeptRoute, async ({ parameters: { id }, body, event }) => {
  const { connection, owner } = event.locals;
  const means = (etag: string) => meansThis(event.request, etag);
  const renamed = await renameKept(connection.database, { owner, id, change: body, means });
  if (!renamed.ok) return unchanged(id, renamed.now);
  event.setHeaders({ etag: renamed.kept.etag });
  return renamed.kept;
});

export const DELETE = handle(dropRoute, async ({ parameters: { id }, event }) => {
  const { connection, owner } = event.locals;
  const means = (etag: string) => meansThis(event.request, etag);
  const dropped = await dropKept(connection.database, { owner, id, means });
  return dropped.ok ? undefined : unchanged(id, dropped.now);
});
