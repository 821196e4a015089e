import type PgBoss from 'pg-boss';
import type { Connection } from '../database/connect.ts';
import { enqueue } from '../jobs/queue.ts';
import { jobGroups } from '../repositories/jobs.ts';
import { outdatedInstants } from '../repositories/measures.ts';
import { listUnderlyings } from '../repositories/underlyings.ts';
import { DERIVATION_VERSION } from '../derive/measures-of.ts';
import { derivations } from './derive-later.ts';

/** Queues the making of measures that are missing or of another version; nothing when they are in the making already. */
export async function enqueueRebuild(connection: Connection, boss: PgBoss, owner: string): Promise<number> {
  const group = `Measures, version ${DERIVATION_VERSION}`;
  const open = (await jobGroups(connection.database, owner)).find((g) => g.group === group);
  if (open && open.waiting + open.running > 0) return 0;
  const outdated = await outdatedInstants(connection.database, DERIVATION_VERSION);
  const symbols = new Map((await listUnderlyings(connection.database)).map((u) => [u.id, u.symbol]));
  const requests = [...symbols].flatMap(([id, symbol]) =>
    derivations(
      `${symbol} measures`,
      outdated.filter((o) => o.underlyingId === id),
      { priority: 300 },
    ),
  );
  await enqueue(connection, boss, { owner, group }, requests);
  return requests.length;
}
