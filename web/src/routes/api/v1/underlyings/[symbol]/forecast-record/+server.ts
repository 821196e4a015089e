import { forecastRecordRoute } from '$lib/api/contract/views';
import type { ForecastRecord } from '$lib/api/level';
import { handle } from '$lib/server/api/handle';
import { askedLevel } from '$lib/server/http/asked-level';
import { forecastRecordText } from '$lib/server/services/level';

export const GET = handle(forecastRecordRoute, async ({ parameters, query, event }) => {
  const { connection } = event.locals;
  const asked = await askedLevel(connection, parameters.symbol, query);
  return asked.ok
    ? (JSON.parse(await forecastRecordText(connection.database, asked)) as ForecastRecord)
    : asked.response;
});
