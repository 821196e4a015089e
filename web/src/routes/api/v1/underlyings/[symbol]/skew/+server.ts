import type { RequestHandler } from './$types';
import { requestedPicture } from '$lib/server/http/picture-request';

export const GET: RequestHandler = async ({ locals, params, url }) => {
  const found = await requestedPicture(locals.connection, params.symbol, url);
  if (!found.ok) return found.response;
  const { picture, context } = found;
  const expiries = picture.expiries.filter((e) => context.expiry === undefined || e.date === context.expiry);
  return Response.json({ symbol: picture.underlying.symbol, asOf: picture.asOf, price: picture.price, expiries });
};
