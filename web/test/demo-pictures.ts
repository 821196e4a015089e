import { asOfContext, type AsOfContext } from '../src/lib/api/as-of-context.ts';
import type { ExpiryPicture, Picture } from '../src/lib/api/picture.ts';
import { storeDemoBase } from '../src/lib/server/demo/demo-base.ts';
import { storeDemoToday } from '../src/lib/server/demo/demo-chains.ts';
import { closeComputePool } from '../src/lib/server/derive/pool.ts';
import { loadPicture } from '../src/lib/server/services/picture.ts';
import { volatilityInForce } from '../src/lib/theory/index.ts';
import { testDatabase } from './database.ts';

/** An index, a fund, shares with and without dividends ahead, a mini and a delivery future, a currency. */
export const SYMBOLS = ['VM50', 'VFUND', 'KELPA', 'PELAG', 'MERRO', 'VMQ', 'RYE', 'TERN'];
const ALL = process.env.SOAK !== undefined;

/** Those underlyings of the demo as views see them today, by symbol. */
export async function demoPictures(): Promise<{ pictures: ReadonlyMap<string, Picture>; drop: () => Promise<void> }> {
  const store = await testDatabase();
  await storeDemoBase(store.connection);
  const pictures = new Map<string, Picture>();
  for (const symbol of SYMBOLS) {
    await storeDemoToday(store.connection, symbol);
    const loaded = await loadPicture(store.connection.database, symbol, asOfContext.parse({}));
    if (!loaded.ok) throw new Error(loaded.reason);
    pictures.set(symbol, loaded.picture);
  }
  const drop = async () => {
    await closeComputePool();
    await store.drop();
  };
  return { pictures, drop };
}

export const contextOf = (volatilitySource: AsOfContext['volatilitySource'], typedVolatility?: number) =>
  asOfContext.parse({ volatilitySource, typedVolatility });

export const inForceOf = (
  picture: Picture,
  volatilitySource: AsOfContext['volatilitySource'],
  typedVolatility?: number,
) => volatilityInForce(picture, { volatilitySource, typedVolatility });

/** Lowest, nearest to the forward, highest; all of them in the long run. */
export function strikesOf({ strikes, forward }: Pick<ExpiryPicture, 'strikes' | 'forward'>): number[] {
  if (ALL) return strikes;
  const at = strikes.findIndex((k) => k >= forward);
  return [...new Set([strikes[0], strikes[Math.max(at, 0)], strikes[strikes.length - 1]])];
}
