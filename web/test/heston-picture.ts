import { readFileSync } from 'node:fs';
import { asOfContext } from '../src/lib/api/as-of-context.ts';
import { importOptions } from '../src/lib/api/chain-import.ts';
import type { Picture } from '../src/lib/api/picture.ts';
import { importChain } from '../src/lib/server/imports/import-chain.ts';
import { loadPicture } from '../src/lib/server/services/picture.ts';
import { testDatabase } from './database.ts';
import { spooled } from './spooled.ts';

/** The plain Heston chain, imported into a database of its own, as views see it. */
export async function hestonPicture(): Promise<{ picture: Picture; drop: () => Promise<void> }> {
  const store = await testDatabase();
  const file = await spooled(readFileSync(new URL('../../e2e/files/heston-plain.csv', import.meta.url)));
  const outcome = await importChain(store.connection, 'local', { files: [file], options: importOptions.parse({}) });
  if (!outcome.ok) throw new Error('the chain was not imported');
  const loaded = await loadPicture(store.connection.database, 'FJRD', asOfContext.parse({}));
  if (!loaded.ok) throw new Error(loaded.reason);
  return { picture: loaded.picture, drop: async () => void (await store.drop()) };
}
