import { surfaceFitRoute } from '$lib/api/contract/pricing';
import { handle, jsonText } from '$lib/server/api/handle';
import { answerApart } from '$lib/server/http/read-json';

/** Read, checked and fitted in a worker thread: 60 slices of 2,000 strikes take longer than others can wait. */
export const POST = handle(surfaceFitRoute, async ({ event: { request, locals } }) => {
  const fit = await answerApart(request, 'surfaceFit', { limit: 'computed', lane: 'fit', left: locals.left });
  return fit.ok ? jsonText(fit.answer) : fit.response;
});
