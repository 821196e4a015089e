import { workbookRoute } from '$lib/api/contract/pricing';
import { handle } from '$lib/server/api/handle';
import { answerApart } from '$lib/server/http/read-json';

const [type] = workbookRoute.answerTypes ?? [];

export const POST = handle(workbookRoute, async ({ event: { request, locals } }) => {
  const made = await answerApart(request, 'workbook', { limit: 'computed', lane: 'workbook', left: locals.left });
  if (!made.ok) return made.response;
  return new Response(made.answer as Uint8Array<ArrayBuffer>, { headers: { 'content-type': type } });
});
