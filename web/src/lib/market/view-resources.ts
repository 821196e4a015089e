import { derivingQuery } from '../api/as-of-context.ts';
import type { MarketResource } from '../api/market-resource.ts';
import { joinOverview, joinQuotes, type Overview, type Picture } from '../api/picture.ts';
import type { PastResource } from '../api/past-resource.ts';
import { ask } from '../api/client/ask.ts';
import { marketRoute, pictureRoute } from '../api/contract/views.ts';
import type { SurfaceResource } from '../api/surface-resource.ts';

/** Resources as the server sent them with a page. */
interface SentTexts {
  surface: string;
  past: string;
  market?: string;
}

/**
 * What a view sees of an underlying, from what came with its page; the quotes are asked for where they did not come with it.
 * Both sides are of one build, so shapes need not be checked.
 * @param o.query of the page
 */
export async function viewResources(
  texts: SentTexts,
  o: { needsQuotes: boolean; query: URLSearchParams; fetch: typeof fetch },
): Promise<Overview | Picture> {
  const seen = joinOverview(JSON.parse(texts.surface) as SurfaceResource, JSON.parse(texts.past) as PastResource);
  if (texts.market !== undefined) return withQuotes(seen, JSON.parse(texts.market) as MarketResource);
  if (!o.needsQuotes) return seen;
  const query = derivingQuery(o.query);
  if (!seen.isLive) query.set('asOf', seen.asOf);
  const asked = { parameters: { symbol: seen.underlying.symbol }, query, fetch: o.fetch, isUnchecked: true };
  const market = await ask(marketRoute, asked);
  // A wave may have come since: then everything is taken of the newer one.
  if (market.asOf !== seen.asOf) return ask(pictureRoute, asked);
  return withQuotes(seen, market);
}

function withQuotes(seen: Overview, market: MarketResource): Picture {
  return { ...seen, expiries: joinQuotes(seen.expiries, market) };
}
