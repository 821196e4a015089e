import type PgBoss from 'pg-boss';
import type { Connection } from '../database/connect.ts';
import { enqueue, type JobRequest } from '../jobs/queue.ts';
import { jobGroups } from '../repositories/jobs.ts';
import { outdatedInstants } from '../repositories/measures.ts';
import { listUnderlyings } from '../repositories/underlyings.ts';
import { DERIVATION_VERSION } from '../derive/measures-of.ts';

/** Instants a job derives: a second or a few. */
const INSTANTS_PER_JOB = 40;

/** Queues the making of measures that are missing or of another version; nothing when they are in the making already. */
export async function enqueueRebuild(connection: Connection, boss: PgBoss, owner: string): Promise<number> {
  const group = `Measures, version ${DERIVATION_VERSION}`;
  const open = (await jobGroups(connection.database, owner)).find((g) => g.group === group);
  if (open && open.waiting + open.running > 0) return 0;
  const outdated = await outdatedInstants(connection.database, DERIVATION_VERSION);
  const symbols = new Map((await listUnderlyings(connection.database)).map((u) => [u.id, u.symbol]));
  const requests: JobRequest[] = [];
  for (const [underlyingId, symbol] of symbols) {
    const own = outdated.filter((o) => o.underlyingId === underlyingId).map((o) => o.instant.toISOString());
    for (let i = 0; i < own.length; i += INSTANTS_PER_JOB) {
      const part = own.slice(i, i + INSTANTS_PER_JOB);
      const [from, to] = [part[0], part[part.length - 1]];
      requests.push({
        label: `${symbol} measures ${from.slice(0, 10)} to ${to.slice(0, 10)}`,
        payload: { kind: 'derive-measures', underlyingId, from, to },
        priority: 300,
        weight: part.length,
      });
    }
  }
  await enqueue(connection, boss, { owner, group }, requests);
  return requests.length;
}
