import type { RequestHandler } from './$types';
import { surfaceFitRequest } from '$lib/schema/surface-fit';
import { readJson } from '$lib/server/http/read-json';
import { fitSurface } from '$lib/server/services/fit-surface';

export const POST: RequestHandler = async ({ request }) => {
  const body = await readJson(request, surfaceFitRequest);
  return body.ok ? Response.json(fitSurface(body.data)) : body.response;
};
