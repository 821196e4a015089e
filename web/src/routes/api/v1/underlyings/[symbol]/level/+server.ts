import { levelRoute } from '$lib/api/contract/views';
import type { Level } from '$lib/api/level';
import { handle } from '$lib/server/api/handle';
import { askedLevel } from '$lib/server/http/asked-level';
import { levelText } from '$lib/server/services/level';

export const GET = handle(levelRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const asked = await askedLevel(connection, parameters.symbol, query);
  return asked.ok ? (JSON.parse(await levelText(connection.database, asked)) as Level) : asked.response;
});
