import { marketRoute, surfaceRoute } from '../contract/views.ts';
import { joinQuotes, type QuotedSurface } from '../picture.ts';
import type { SurfaceResource } from '../surface-resource.ts';
import { ask } from './ask.ts';

/** What is implied and fitted of an underlying at or before an instant. @throws ApiTrouble */
export function readSurface(symbol: string, asOf: string, signal: AbortSignal): Promise<SurfaceResource> {
  return ask(surfaceRoute, { parameters: { symbol }, query: { asOf }, signal, isUnchecked: true });
}

/** Surface and quotes of an underlying at or before an instant. @throws ApiTrouble */
export async function readQuotedSurface(symbol: string, asOf: string, signal: AbortSignal): Promise<QuotedSurface> {
  const [surface, market] = await Promise.all([
    readSurface(symbol, asOf, signal),
    ask(marketRoute, { parameters: { symbol }, query: { asOf }, signal, isUnchecked: true }),
  ]);
  return { ...surface, expiries: joinQuotes(surface.expiries, market) };
}
