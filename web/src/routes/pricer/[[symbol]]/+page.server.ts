import type { PageServerLoad } from './$types';
import { loadPagePicture } from '$lib/server/http/page-picture';

export const load: PageServerLoad = async ({ locals, params, url }) => {
  if (params.symbol === undefined) return { pictureText: undefined };
  return { pictureText: await loadPagePicture(locals.connection.database, params.symbol, url) };
};
