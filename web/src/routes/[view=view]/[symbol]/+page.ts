import { error } from '@sveltejs/kit';
import type { Component } from 'svelte';
import type { PageLoad } from './$types';
import { viewResources } from '$lib/market';
import { wantedResources } from '$lib/shell/view-definition';
import { VIEWS } from '$lib/views';

/** Pages that came before: asking the browser for a module anew costs milliseconds although it is there. */
const pages = new Map<string, Component>();

export const load: PageLoad = async ({ data, params, url, fetch, untrack }) => {
  const view = VIEWS.find((v) => v.id === params.view);
  if (!view?.page) error(404, 'There is no such view.');
  const query = untrack(() => new URLSearchParams(url.searchParams));
  const needsQuotes = wantedResources(view, query).includes('market');
  const [View, seen] = await Promise.all([
    pages.get(view.id) ?? view.page().then((page) => page.default),
    viewResources(data.texts, { needsQuotes, query, fetch }),
  ]);
  pages.set(view.id, View);
  return { view, View, seen };
};
