import { surfaceRoute } from '$lib/api/contract/views';
import { handle, jsonText } from '$lib/server/api/handle';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET = handle(surfaceRoute, async ({ parameters, query, event }) => {
  const found = await requestedPicture(event.locals.connection, parameters.symbol, query);
  return found.ok ? jsonText(found.made.text('surface')) : found.response;
});
