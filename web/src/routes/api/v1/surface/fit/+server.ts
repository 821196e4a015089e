import { surfaceFitRoute } from '$lib/api/contract/pricing';
import { handle, jsonText } from '$lib/server/api/handle';
import { compute } from '$lib/server/derive/pool';
import { problem, tooLarge } from '$lib/server/http/problem';
import { readBytes } from '$lib/server/http/read-text';

/** Read, checked and fitted in a worker thread: 60 slices of 2,000 strikes take longer than others can wait. */
export const POST = handle(surfaceFitRoute, async ({ event: { request, locals } }) => {
  const body = await readBytes(request);
  if (!body) return tooLarge();
  const answer = await compute('surfaceFit', { body }, { lane: 'fit', isLong: true, signal: locals.left });
  switch (answer.type) {
    case 'malformed':
      return problem(400, 'malformed-json', { detail: 'send one JSON document' });
    case 'invalid':
      return problem(400, 'invalid-request', { errors: answer.errors });
    case 'fit':
      return jsonText(answer.text);
  }
});
