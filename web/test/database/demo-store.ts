import { afterAll, beforeAll } from 'vitest';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import type { Picture } from '../../src/lib/api/picture.ts';
import { closeComputePool } from '../../src/lib/server/derive/pool.ts';
import { findUnderlying } from '../../src/lib/server/repositories/underlyings.ts';
import { loadPicture } from '../../src/lib/server/services/picture.ts';
import { testDatabase, type TestDatabase } from './database.ts';

/** A database of its own for a file of tests, with today's quotes of every underlying of the demo. */
export function demoStore() {
  let store: TestDatabase | undefined;
  const made = (): TestDatabase => {
    if (!store) throw new Error('the database is made before the first test');
    return store;
  };
  beforeAll(async () => {
    store = await testDatabase({ with: 'today' });
  });
  afterAll(async () => {
    await closeComputePool();
    await store?.drop();
  });
  return {
    get connection() {
      return made().connection;
    },
    get url() {
      return made().url;
    },
    async underlying(symbol: string) {
      const stored = await findUnderlying(made().connection.database, symbol);
      if (!stored) throw new Error(symbol);
      return stored;
    },
    async picture(symbol: string): Promise<Picture> {
      const loaded = await loadPicture(made().connection.database, symbol, asOfContext.parse({}));
      if (!loaded.ok) throw new Error(symbol);
      return loaded.picture;
    },
  };
}
