import { workbookRoute } from '$lib/api/contract/pricing';
import { handle } from '$lib/server/api/handle';
import { compute } from '$lib/server/derive/pool';

const [type] = workbookRoute.answerTypes ?? [];

export const POST = handle(workbookRoute, async ({ body }) => {
  const bytes = await compute('workbook', body, { lane: 'workbook', isLong: true });
  return new Response(bytes as Uint8Array<ArrayBuffer>, { headers: { 'content-type': type } });
});
