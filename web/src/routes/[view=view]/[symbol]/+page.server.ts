import type { PageServerLoad } from './$types';
import { loadPagePicture } from '$lib/server/http/page-picture';

export const load: PageServerLoad = async ({ locals, params, url }) => ({
  pictureText: await loadPagePicture(locals.connection.database, params.symbol, url),
});
