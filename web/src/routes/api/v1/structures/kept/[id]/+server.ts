import { changeKeptRoute, dropRoute } from '$lib/api/contract/structures';
import { handle } from '$lib/server/api/handle';
import { problem } from '$lib/server/http/problem';
import { dropKept, renameKept } from '$lib/server/services/shelf';

const unknown = (id: string) => problem(404, 'not-found', { detail: `no structure ${id} is kept` });

export const PUT = handle(changeKeptRoute, async ({ parameters: { id }, body, event }) => {
  const { connection, owner } = event.locals;
  return (await renameKept(connection.database, { owner, id, change: body })) ?? unknown(id);
});

export const DELETE = handle(dropRoute, async ({ parameters: { id }, event }) => {
  const { connection, owner } = event.locals;
  return (await dropKept(connection.database, { owner, id })) ? undefined : unknown(id);
});
