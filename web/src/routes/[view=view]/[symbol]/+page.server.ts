import { error } from '@sveltejs/kit';
import type { PageServerLoad } from './$types';
import { loadPageResources } from '$lib/server/http/page-resources';
import { wantedResources } from '$lib/shell/view-definition';
import { VIEWS } from '$lib/views';

export const load: PageServerLoad = async ({ locals, params, url, untrack }) => {
  // Another view of the same underlying asks for what it lacks by itself.
  const view = VIEWS.find((v) => v.id === untrack(() => params.view)) ?? error(404, 'There is no such view.');
  const wanted = untrack(() => wantedResources(view, url.searchParams));
  return { texts: await loadPageResources(locals.connection.database, params.symbol, url, wanted) };
};
