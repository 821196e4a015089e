import { and, asc, desc, eq, inArray, lt, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { jobs } from '../database/schema.ts';

export type StoredJob = typeof jobs.$inferSelect;
export type NewJob = typeof jobs.$inferInsert;

export async function insertJobs(database: Database | Transaction, rows: NewJob[]): Promise<void> {
  const batch = 1000;
  for (let i = 0; i < rows.length; i += batch) await database.insert(jobs).values(rows.slice(i, i + batch));
}

/** Marks a job as running here; undefined when it is no longer wanted or known. */
export async function startJob(database: Database, id: string, worker: string): Promise<StoredJob | undefined> {
  const [row] = await database
    .update(jobs)
    .set({
      state: 'running',
      worker,
      share: 0,
      error: null,
      beatAt: sql`now()`,
      startedAt: sql`now()`,
      attempts: sql`${jobs.attempts} + 1`,
    })
    .where(and(eq(jobs.id, id), inArray(jobs.state, ['waiting', 'running']), eq(jobs.isCancelWanted, false)))
    .returning();
  return row;
}

/** Sign of life with progress; tells whether the job is still this worker's and still wanted. */
export async function beat(
  database: Database,
  o: { id: string; worker: string; share: number },
): Promise<'go-on' | 'cancel' | 'lost'> {
  const [row] = await database
    .update(jobs)
    .set({ share: o.share, beatAt: sql`now()` })
    .where(and(eq(jobs.id, o.id), eq(jobs.worker, o.worker), eq(jobs.state, 'running')))
    .returning({ isCancelWanted: jobs.isCancelWanted });
  if (!row) return 'lost';
  return row.isCancelWanted ? 'cancel' : 'go-on';
}

/** Ends a job that is still this worker's. */
export async function endJob(
  database: Database,
  o: { id: string; worker: string; state: 'done' | 'failed' | 'cancelled' | 'waiting'; error?: string },
): Promise<void> {
  await database
    .update(jobs)
    .set({
      state: o.state,
      error: o.error ?? null,
      worker: null,
      ...(o.state === 'done' ? { share: 1 } : {}),
      ...(o.state === 'waiting' ? { share: 0 } : { finishedAt: sql`now()` }),
    })
    .where(and(eq(jobs.id, o.id), eq(jobs.worker, o.worker)));
}

/**
 * Takes jobs back from workers that gave no sign of life for some seconds, or died between the queue's giving them out and
 * the first sign.
 * @returns ids to give out again
 */
export async function takeBackLostJobs(database: Database | Transaction, seconds: number): Promise<string[]> {
  const span = sql`make_interval(secs => ${seconds})`;
  const lost = await database
    .update(jobs)
    .set({ state: 'waiting', worker: null, share: 0 })
    .where(and(eq(jobs.state, 'running'), lt(jobs.beatAt, sql`now() - ${span}`)))
    .returning({ id: jobs.id });
  const { rows: never } = await database.execute<{ id: string }>(sql`
    select q.id from pgboss.job q join jobs j on j.id = q.id
    where q.state = 'active' and q.started_on < now() - ${span} and j.state = 'waiting'`);
  return [...new Set([...lost, ...never].map((r) => r.id))];
}

/** Wishes an end to the unfinished jobs of a group; those not begun end at once. Returns their ids. */
export async function cancelGroup(database: Database | Transaction, owner: string, group: string): Promise<string[]> {
  const own = and(eq(jobs.owner, owner), eq(jobs.group, group));
  await database
    .update(jobs)
    .set({ isCancelWanted: true })
    .where(and(own, eq(jobs.state, 'running')));
  const rows = await database
    .update(jobs)
    .set({ state: 'cancelled', isCancelWanted: true, finishedAt: sql`now()` })
    .where(and(own, eq(jobs.state, 'waiting')))
    .returning({ id: jobs.id });
  return rows.map((r) => r.id);
}

/** Groups of jobs with how far they are, newest first. */
export async function jobGroups(database: Database | Transaction, owner: string) {
  const count = (state: string) => sql<number>`(count(*) filter (where ${jobs.state} = ${state}))::int`;
  return database
    .select({
      group: jobs.group,
      total: sql<number>`count(*)::int`,
      waiting: count('waiting'),
      running: count('running'),
      done: count('done'),
      failed: count('failed'),
      cancelled: count('cancelled'),
      share: sql<number>`(sum(${jobs.weight} * ${jobs.share}) / nullif(sum(${jobs.weight}) filter (where ${jobs.state} <> 'cancelled'), 0))::float8`,
      current: sql<string | null>`min(${jobs.label}) filter (where ${jobs.state} = 'running')`,
      error: sql<string | null>`min(${jobs.error}) filter (where ${jobs.state} = 'failed')`,
      createdAt: sql<string>`min(${jobs.createdAt})`,
      finishedAt: sql<string | null>`max(${jobs.finishedAt})`,
    })
    .from(jobs)
    .where(eq(jobs.owner, owner))
    .groupBy(jobs.group)
    .orderBy(desc(sql`min(${jobs.createdAt})`))
    .limit(50);
}

/** Jobs of a group in the order they were made. */
export function jobsOf(database: Database | Transaction, owner: string, group: string): Promise<StoredJob[]> {
  return database
    .select()
    .from(jobs)
    .where(and(eq(jobs.owner, owner), eq(jobs.group, group)))
    .orderBy(asc(jobs.createdAt), asc(jobs.id));
}

/** One job of an owner. */
export async function findJob(
  database: Database | Transaction,
  owner: string,
  id: string,
): Promise<StoredJob | undefined> {
  const [row] = await database
    .select()
    .from(jobs)
    .where(and(eq(jobs.owner, owner), eq(jobs.id, id)));
  return row;
}

/** Wishes an end to unfinished work on an underlying; what has not begun ends at once. */
export async function cancelJobsOf(database: Database | Transaction, underlyingId: number): Promise<void> {
  const own = sql`${jobs.payload} ->> 'underlyingId' = ${String(underlyingId)}`;
  await database
    .update(jobs)
    .set({ isCancelWanted: true })
    .where(and(own, eq(jobs.state, 'running')));
  await database
    .update(jobs)
    .set({ state: 'cancelled', isCancelWanted: true, finishedAt: sql`now()` })
    .where(and(own, eq(jobs.state, 'waiting')));
}
