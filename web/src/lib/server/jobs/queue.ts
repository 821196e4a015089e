import { randomUUID } from 'node:crypto';
import PgBoss from 'pg-boss';
import type { Connection, Session } from '../database/connect.ts';
import { insertJobs } from '../repositories/jobs.ts';
import type { JobPayload } from './job-payload.ts';

/** The one queue; what a job does is in its payload, and its priority says how soon. */
export const QUEUE = 'umwelt';
/** A job whose worker died is given out again this often before it counts as failed. */
const RETRIES = 5;

export interface JobRequest {
  label: string;
  payload: JobPayload;
  /** Higher comes first */
  priority: number;
  /** Part of the group's work, in any unit */
  weight: number;
}

/** Opens the queue in the database, making its tables on first use. Close it with `stop`. */
export async function openQueue(url: string): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: url, max: 2, schedule: false, deleteAfterDays: 7 });
  // The loop of a worker reports what it meets itself; a lost connection is tried again by the library.
  boss.on('error', (error: Error) => console.error('queue', error.message));
  await boss.start();
  await boss.createQueue(QUEUE, { name: QUEUE, policy: 'standard' });
  return boss;
}

/** Puts jobs of one group into the queue, in the transaction that shows them to users. */
export function enqueue(
  connection: Connection,
  boss: PgBoss,
  o: { owner: string; group: string },
  requests: JobRequest[],
): Promise<string[]> {
  return connection.transaction((session) => enqueueWithin(session, boss, o, requests));
}

/** Puts jobs into the queue in a transaction that is under way, so that jobs come with what they are about or not at all. */
export async function enqueueWithin(
  { sql, database }: Pick<Session, 'sql' | 'database'>,
  boss: PgBoss,
  o: { owner: string; group: string },
  requests: JobRequest[],
): Promise<string[]> {
  const rows = requests.map((request) => ({ ...request, id: randomUUID() }));
  if (rows.length === 0) return [];
  await insertJobs(
    database,
    rows.map(({ id, label, payload, weight }) => ({ id, label, payload, weight, ...o, state: 'waiting' as const })),
  );
  await boss.insert(
    rows.map(({ id, priority }) => ({ id, name: QUEUE, priority, retryLimit: RETRIES, expireInSeconds: 3600 })),
    { db: onDriver(sql) },
  );
  return rows.map((r) => r.id);
}

/** The queue's statements on a connection that is in the middle of a transaction. */
export function onDriver(sql: Session['sql']): PgBoss.Db {
  return {
    executeSql: async (text, values) => ({
      // The library leaves out what its defaults fill in.
      rows: await sql.text(
        text,
        values.map((v) => v ?? null),
      ),
    }),
  };
}
