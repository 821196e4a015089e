import type { PageLoad } from './$types';
import type { Picture } from '$lib/api/picture';
import { viewResources } from '$lib/market';

export const load: PageLoad = async ({ data, url, fetch, untrack }) => {
  if (!data.texts) return { seen: undefined };
  const query = untrack(() => new URLSearchParams(url.searchParams));
  return { seen: (await viewResources(data.texts, { needsQuotes: true, query, fetch })) as Picture };
};
