import type { RequestHandler } from './$types';
import { priceRequest } from '$lib/schema/price';
import { readJson } from '$lib/server/http/read-json';
import { priceRow } from '$lib/server/services/price-contracts';

export const POST: RequestHandler = async ({ request }) => {
  const body = await readJson(request, priceRequest);
  return body.ok ? Response.json({ results: body.data.contracts.map(priceRow) }) : body.response;
};
