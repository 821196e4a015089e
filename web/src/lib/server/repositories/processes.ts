import { and, eq, gt, lt, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { processes } from '../database/schema.ts';

export type StoredProcess = typeof processes.$inferSelect;

/** Says that a process is there; those that gave no sign for longer than some seconds are forgotten. */
export async function beatProcess(
  database: Database | Transaction,
  process: Pick<StoredProcess, 'id' | 'kind' | 'host' | 'pid'>,
  forgetAfter: number,
): Promise<void> {
  await database
    .insert(processes)
    .values(process)
    .onConflictDoUpdate({ target: processes.id, set: { beatAt: sql`now()` } });
  await database.delete(processes).where(lt(processes.beatAt, sql`now() - make_interval(secs => ${forgetAfter})`));
}

export async function removeProcess(database: Database | Transaction, id: string): Promise<void> {
  await database.delete(processes).where(eq(processes.id, id));
}

/** Processes with their age in seconds and the seconds since their last sign, in the order in which they started. */
export function listProcesses(database: Database | Transaction) {
  return database
    .select({
      id: processes.id,
      kind: processes.kind,
      host: processes.host,
      pid: processes.pid,
      age: sql<number>`extract(epoch from now() - ${processes.startedAt})::float8`,
      silentFor: sql<number>`extract(epoch from now() - ${processes.beatAt})::float8`,
    })
    .from(processes)
    .orderBy(processes.startedAt);
}

/** Whether a process of a kind gave a sign within some seconds. */
export async function hasProcess(
  database: Database | Transaction,
  kind: StoredProcess['kind'],
  seconds: number,
): Promise<boolean> {
  const rows = await database
    .select({ id: processes.id })
    .from(processes)
    .where(and(eq(processes.kind, kind), gt(processes.beatAt, sql`now() - make_interval(secs => ${seconds})`)))
    .limit(1);
  return rows.length > 0;
}
