import type { Connection } from '../../src/lib/server/database/connect.ts';
import { DERIVATION_VERSION } from '../../src/lib/server/derive/measures-of.ts';
import { outdatedInstants } from '../../src/lib/server/repositories/measures.ts';
import { rebuildMeasures } from '../../src/lib/server/services/rebuild-measures.ts';

/** Derives all measures that are missing, as a worker does when it is asked to. */
export async function deriveMissing(connection: Connection): Promise<void> {
  for (const { underlyingId, instant } of await outdatedInstants(connection.database, DERIVATION_VERSION)) {
    const at = instant.toISOString();
    await rebuildMeasures(connection, { underlyingId, from: at, to: at }, () => Promise.resolve());
  }
}
