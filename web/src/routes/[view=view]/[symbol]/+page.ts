import { error } from '@sveltejs/kit';
import type { PageLoad } from './$types';
import { viewResources } from '$lib/market';
import { wantedResources } from '$lib/shell/view-definition';
import { VIEWS } from '$lib/views';

export const load: PageLoad = async ({ data, params, url, fetch, untrack }) => {
  const view = VIEWS.find((v) => v.id === params.view);
  if (!view?.page) error(404, 'There is no such view.');
  const query = untrack(() => new URLSearchParams(url.searchParams));
  const needsQuotes = wantedResources(view, query).includes('market');
  const [{ default: View }, seen] = await Promise.all([
    view.page(),
    viewResources(data.texts, { needsQuotes, query, fetch }),
  ]);
  return { view, View, seen };
};
