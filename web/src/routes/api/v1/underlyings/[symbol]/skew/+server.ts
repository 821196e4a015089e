import type { RequestHandler } from './$types';
import type { ExpiryPicture } from '$lib/api/picture';
import { listResponse, wantsCsv } from '$lib/server/http/list-response';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET: RequestHandler = async ({ locals, params, request, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const { picture, context } = found;
  const expiries = picture.expiries.filter((e) => context.expiry === undefined || e.date === context.expiry);
  if (wantsCsv(request, url)) return listResponse(request, url, 'expiries', expiries.map(figuresOf));
  return Response.json({ symbol: picture.underlying.symbol, asOf: picture.asOf, price: picture.price, expiries });
};

/** What a row of a table can hold of an expiry: its figures, without columns by strike. */
function figuresOf(expiry: ExpiryPicture): Record<string, unknown> {
  return Object.fromEntries(Object.entries(expiry).filter(([, value]) => value === null || typeof value !== 'object'));
}
