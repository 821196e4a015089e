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

/** What was made of texts, so that another view of the same sees the same objects and nothing is computed again. */
const seenOf = new WeakMap<SentTexts, { seen: Overview; quoted?: Picture }>();

/**
 * What a view sees of an underlying, from what came with its page; the quotes are asked for where they did not come with it.
 * Both sides are of one build, so shapes need not be checked.
 * @param o.query of the page
 */
export async function viewResources(
  texts: SentTexts,
  o: { needsQuotes: boolean; query: URLSearchParams; fetch: typeof fetch },
): Promise<Overview | Picture> {
  const known = seenOf.get(texts) ?? parsed(texts);
  seenOf.set(texts, known);
  if (!known.quoted && o.needsQuotes) known.quoted = await withQuotes(known.seen, o);
  return known.quoted ?? known.seen;
}

function parsed(texts: SentTexts): { seen: Overview; quoted?: Picture } {
  const seen = joinOverview(JSON.parse(texts.surface) as SurfaceResource, JSON.parse(texts.past) as PastResource);
  if (texts.market === undefined) return { seen };
  return { seen, quoted: joined(seen, JSON.parse(texts.market) as MarketResource) };
}

async function withQuotes(seen: Overview, o: { query: URLSearchParams; fetch: typeof fetch }): Promise<Picture> {
  const query = derivingQuery(o.query);
  if (!seen.isLive) query.set('asOf', seen.asOf);
  const asked = { parameters: { symbol: seen.underlying.symbol }, query, fetch: o.fetch, isUnchecked: true };
  const market = await ask(marketRoute, asked);
  // A wave may have come since: then everything is taken of the newer one.
  if (market.asOf !== seen.asOf) return ask(pictureRoute, asked);
  return joined(seen, market);
}

function joined(seen: Overview, market: MarketResource): Picture {
  return { ...seen, expiries: joinQuotes(seen.expiries, market) };
}
