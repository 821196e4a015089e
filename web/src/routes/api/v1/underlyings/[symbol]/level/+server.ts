import { levelRoute } from '$lib/api/contract/views';
import type { Level } from '$lib/api/level';
import { handle } from '$lib/server/api/handle';
import { askedLevel } from '$lib/server/http/asked-level';
import { levelText, warmLevels } from '$lib/server/services/level';

export const GET = handle(levelRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const asked = await askedLevel(connection, parameters.symbol, query);
  if (!asked.ok) return asked.response;
  const text = await levelText(connection.database, asked);
  // After the answer has been written.
  if (!asked.picture.isLive) setTimeout(() => void warmLevels(connection.database, asked).catch(() => undefined), 20);
  return JSON.parse(text) as Level;
});
