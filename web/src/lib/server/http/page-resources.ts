import { error, redirect } from '@sveltejs/kit';
import { symbolPart } from '@umwelt/market/symbol';
import { derivingQuery, parseContext } from '../../api/as-of-context.ts';
import type { ResourceName } from '../../api/resource-name.ts';
import type { Database } from '../database/connect.ts';
import { loadPicture, warmNeighbors } from '../services/picture.ts';
import { pageTurn } from './page-turn.ts';

/** What a page shows of an underlying. As text, because the framework's own way of sending data takes ten times as long for columns of numbers. */
export type ResourceTexts<N extends ResourceName> = Record<N, string>;

/** The resources of the underlying that a page asks for, or the page of the error. */
export async function loadPageResources<N extends ResourceName>(
  database: Database,
  symbol: string,
  url: URL,
  wanted: readonly N[],
): Promise<ResourceTexts<N>> {
  const context = parseContext(derivingQuery(url.searchParams));
  const result = await loadPicture(database, symbol, context);
  if (result.ok) {
    const { made } = result;
    // Written in another case, or given up for another.
    if (result.symbol !== symbol)
      redirect(307, url.href.replace(`/${symbolPart(symbol)}`, `/${symbolPart(result.symbol)}`));
    // After the answer has been written.
    if (!made.isLive)
      setTimeout(() => void warmNeighbors(database, result.symbol, made.moment, context).catch(() => undefined), 20);
    await pageTurn();
    return Object.fromEntries(wanted.map((name) => [name, made.text(name)])) as ResourceTexts<N>;
  }
  if (result.reason === 'no-quotes') error(404, `No quotes of ${symbol} are stored. Import a chain under Data.`);
  error(404, `No underlying is called ${symbol}. Press / to search what is stored.`);
}
