import { symbolPart } from '@umwelt/market/symbol';
import type { MarketResource } from './market-resource.ts';
import { joinQuotes, type QuotedSurface } from './picture.ts';
import { troubleOf } from './problem.ts';
import type { ResourceName } from './resource-name.ts';
import type { SurfaceResource } from './surface-resource.ts';

type Fetch = typeof fetch;

/**
 * A resource of an underlying, from our own server, which is of the same build: its shape need not be checked.
 * @throws ApiTrouble
 */
export async function readResource(
  name: ResourceName | 'picture',
  symbol: string,
  query: URLSearchParams,
  o: { fetch: Fetch; signal?: AbortSignal },
): Promise<unknown> {
  const response = await o.fetch(`/api/v1/underlyings/${symbolPart(symbol)}/${name}?${query}`, { signal: o.signal });
  const body: unknown = await response.json();
  if (!response.ok) throw troubleOf(response.status, body);
  return body;
}

/** What is implied and fitted of an underlying at or before an instant. @throws ApiTrouble */
export async function readSurface(symbol: string, asOf: string, signal: AbortSignal): Promise<SurfaceResource> {
  const query = new URLSearchParams({ asOf });
  return (await readResource('surface', symbol, query, { fetch, signal })) as SurfaceResource;
}

/** The same with its quotes. @throws ApiTrouble */
export async function readQuotedSurface(symbol: string, asOf: string, signal: AbortSignal): Promise<QuotedSurface> {
  const query = new URLSearchParams({ asOf });
  const [surface, market] = await Promise.all([
    readSurface(symbol, asOf, signal),
    readResource('market', symbol, query, { fetch, signal }) as Promise<MarketResource>,
  ]);
  return { ...surface, expiries: joinQuotes(surface.expiries, market) };
}
