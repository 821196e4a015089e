import type { RequestHandler } from './$types';
import { impliedVolatilityRequest } from '$lib/schema/price';
import { readJson } from '$lib/server/http/read-json';
import { impliedVolatilityRow } from '$lib/server/services/price-contracts';

export const POST: RequestHandler = async ({ request }) => {
  const body = await readJson(request, impliedVolatilityRequest);
  return body.ok ? Response.json({ results: body.data.contracts.map(impliedVolatilityRow) }) : body.response;
};
