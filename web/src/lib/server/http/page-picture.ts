import { error, redirect } from '@sveltejs/kit';
import { symbolPart } from '@umwelt/market/symbol';
import { DERIVING, parseContext } from '../../api/as-of-context.ts';
import type { Database } from '../database/connect.ts';
import { loadPicture, warmNeighbors } from '../services/picture.ts';
import { pageTurn } from './page-turn.ts';

/**
 * Picture, as JSON, of the underlying that a page shows, or the page of the error. As text, because the framework's own way
 * of sending data takes ten times as long for columns of numbers.
 */
export async function loadPagePicture(database: Database, symbol: string, url: URL): Promise<string> {
  const wanted = new URLSearchParams();
  for (const name of DERIVING) {
    const value = url.searchParams.get(name);
    if (value !== null) wanted.set(name, value);
  }
  const context = parseContext(wanted);
  const result = await loadPicture(database, symbol, context);
  if (result.ok) {
    const { made } = result;
    // Written in another case, or given up for another.
    if (result.symbol !== symbol)
      redirect(307, url.href.replace(`/${symbolPart(symbol)}`, `/${symbolPart(result.symbol)}`));
    // After the answer has been written.
    if (!made.isLive) setTimeout(() => void warmNeighbors(database, made.picture, context).catch(() => undefined), 20);
    await pageTurn();
    return made.text;
  }
  if (result.reason === 'no-quotes') error(404, `No quotes of ${symbol} are stored. Import a chain under Data.`);
  error(404, `No underlying is called ${symbol}. Press / to search what is stored.`);
}
