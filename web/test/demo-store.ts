import { afterAll, beforeAll } from 'vitest';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import type { Picture } from '../src/lib/api/picture.ts';
import { storeDemoBase } from '../src/lib/server/demo/demo-base.ts';
import { storeDemoToday } from '../src/lib/server/demo/demo-chains.ts';
import { closeComputePool } from '../src/lib/server/derive/pool.ts';
import { findUnderlying } from '../src/lib/server/repositories/underlyings.ts';
import { loadPicture } from '../src/lib/server/services/picture.ts';
import { testDatabase } from './database.ts';

/** A database of its own for a file of tests, with today's quotes of some underlyings. */
export function demoStore(symbols: readonly string[]) {
  let store: Awaited<ReturnType<typeof testDatabase>>;
  beforeAll(async () => {
    store = await testDatabase();
    await storeDemoBase(store.connection);
    for (const symbol of symbols) await storeDemoToday(store.connection, symbol);
  }, 120_000);
  afterAll(async () => {
    await closeComputePool();
    await store.drop();
  });
  return {
    get connection() {
      return store.connection;
    },
    async underlying(symbol: string) {
      const stored = await findUnderlying(store.connection.database, symbol);
      if (!stored) throw new Error(symbol);
      return stored;
    },
    async picture(symbol: string): Promise<Picture> {
      const loaded = await loadPicture(store.connection.database, symbol, asOfContext.parse({}));
      if (!loaded.ok) throw new Error(symbol);
      return loaded.picture;
    },
  };
}
