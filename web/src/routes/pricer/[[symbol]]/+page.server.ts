import type { PageServerLoad } from './$types';
import { loadPageResources } from '$lib/server/http/page-resources';
import { PRICER_VIEW } from '$lib/views/pricer/definition';

export const load: PageServerLoad = async ({ locals, params, url }) => {
  if (params.symbol === undefined) return { texts: undefined };
  const { resources } = PRICER_VIEW;
  return { texts: await loadPageResources(locals.connection.database, params.symbol, url, resources) };
};
