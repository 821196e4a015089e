import type { Connection } from '../database/connect.ts';
import { outdatedInstants } from '../repositories/measures.ts';
import { underlyingById } from '../repositories/underlyings.ts';
import { deriveMeasures } from './measure-history.ts';
import { DERIVATION_VERSION } from '../derive/measures-of.ts';

/** Derives again the measures of an underlying's stored instants that are missing or of another version. */
export async function rebuildMeasures(
  connection: Connection,
  o: { underlyingId: number; from: string; to: string },
  tick: (share: number) => Promise<void>,
): Promise<void> {
  const { database } = connection;
  const underlying = await underlyingById(database, o.underlyingId);
  if (!underlying) return;
  const instants = await outdatedInstants(database, DERIVATION_VERSION, {
    underlyingId: o.underlyingId,
    from: new Date(o.from),
    to: new Date(o.to),
  });
  for (const [i, { instant }] of instants.entries()) {
    try {
      await deriveMeasures(database, underlying, instant);
    } catch (error) {
      // Deleted while it was derived: nothing of it is left to do.
      if (!(await underlyingById(database, o.underlyingId))) return;
      throw error;
    }
    await tick((i + 1) / instants.length);
  }
}
