import type { RequestHandler } from './$types';
import { shownTableRequest } from '$lib/api/shown-table';
import { readJson } from '$lib/server/http/read-json';
import { compute } from '$lib/server/derive/pool';

const TYPE = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';

export const POST: RequestHandler = async ({ request }) => {
  const body = await readJson(request, shownTableRequest);
  if (!body.ok) return body.response;
  const bytes = await compute('workbook', body.data, { lane: 'workbook', isLong: true });
  return new Response(bytes as Uint8Array<ArrayBuffer>, { headers: { 'content-type': TYPE } });
};
