import { randomUUID } from 'node:crypto';
import { hostname } from 'node:os';
import type PgBoss from 'pg-boss';
import type { Connection } from '../database/connect.ts';
import { beat, endJob, startJob, takeBackLostJobs } from '../repositories/jobs.ts';
import { jobPayload } from '../jobs/job-payload.ts';
import { onDriver, QUEUE } from '../jobs/queue.ts';
import { runJob } from './run-job.ts';

/** A worker that gave no sign of life for this long has lost its job. */
const LOST_AFTER_SECONDS = 10;
const BEAT_MILLISECONDS = 700;
const REST_MILLISECONDS = 400;

/** Ends a job from inside, at its next tick. */
class Ended extends Error {
  readonly how: 'cancel' | 'lost' | 'stopping';
  constructor(how: Ended['how']) {
    super(how);
    this.how = how;
  }
}

/**
 * Takes jobs from the queue one at a time until told to stop. Any number of workers on any number of machines may run;
 * each also takes back jobs from workers that died.
 */
export async function work(connection: Connection, boss: PgBoss, signal: AbortSignal): Promise<void> {
  const worker = `${hostname()}:${process.pid}:${randomUUID().slice(0, 8)}`;
  let lastLook = 0;
  while (!signal.aborted) {
    try {
      if (Date.now() - lastLook > 2000) {
        lastLook = Date.now();
        await connection.transaction(async ({ sql, database }) => {
          const lost = await takeBackLostJobs(database, LOST_AFTER_SECONDS);
          if (lost.length > 0) await boss.fail(QUEUE, lost, { db: onDriver(sql) });
        });
      }
      const [job] = (await boss.fetch(QUEUE, { priority: true })) ?? [];
      if (job) await runOne(connection, boss, { id: job.id, worker, signal });
      else await rest(signal);
    } catch (error) {
      // The database was away; the job, if any, is taken back when its sign of life has aged.
      console.error('worker', error instanceof Error ? error.message : error);
      await rest(signal);
    }
  }
}

async function runOne(
  connection: Connection,
  boss: PgBoss,
  o: { id: string; worker: string; signal: AbortSignal },
): Promise<void> {
  const { database } = connection;
  const { id, worker, signal } = o;
  const stored = await startJob(database, id, worker);
  if (!stored) {
    await boss.complete(QUEUE, id);
    return;
  }
  const signs = giveSigns(database, { id, worker });
  const tick = async (share: number) => {
    if (signal.aborted) throw new Ended('stopping');
    signs.share = share;
    // Computing leaves the clock no turn.
    if (Date.now() - signs.givenAt > BEAT_MILLISECONDS) await signs.give();
    if (signs.ended) throw new Ended(signs.ended);
  };
  try {
    await runJob(connection, jobPayload.parse(stored.payload), tick);
    await signs.stop();
    await endJob(database, { id, worker, state: 'done' });
    await boss.complete(QUEUE, id);
  } catch (error) {
    await signs.stop();
    if (error instanceof Ended) await afterEnd(connection, boss, { id, worker, how: error.how });
    else await afterError(connection, boss, { id, worker, error });
  }
}

/**
 * Says that a job is being worked on, by a clock of its own: what the work waits for, such as a long COPY, has no steps to say so
 * between.
 */
function giveSigns(database: Connection['database'], { id, worker }: { id: string; worker: string }) {
  const signs = {
    share: 0,
    /** How the job was ended from outside, where it was */
    ended: undefined as Exclude<Ended['how'], 'stopping'> | undefined,
    givenAt: Date.now(),
    async give() {
      signs.givenAt = Date.now();
      giving = beat(database, { id, worker, share: signs.share }).then(
        (answer) => {
          if (answer !== 'go-on') signs.ended = answer;
        },
        // The database is away: the work itself meets that, or the next sign is given.
        () => undefined,
      );
      await giving;
    },
    /** After it none is under way. */
    async stop() {
      clearInterval(timer);
      await giving;
    },
  };
  let giving = Promise.resolve();
  const timer = setInterval(() => void signs.give(), BEAT_MILLISECONDS);
  return signs;
}

async function afterEnd(
  { database }: Connection,
  boss: PgBoss,
  o: { id: string; worker: string; how: Ended['how'] },
): Promise<void> {
  const { id, worker, how } = o;
  if (how === 'cancel') {
    await endJob(database, { id, worker, state: 'cancelled' });
    await boss.complete(QUEUE, id);
  } else if (how === 'stopping') {
    await endJob(database, { id, worker, state: 'waiting' });
    await boss.fail(QUEUE, id, { message: 'its worker was stopped' });
  }
  // A lost job belongs to another worker by now.
}

async function afterError(
  { database }: Connection,
  boss: PgBoss,
  o: { id: string; worker: string; error: unknown },
): Promise<void> {
  const { id, worker } = o;
  const message = o.error instanceof Error ? o.error.message : String(o.error);
  console.error('job', id, o.error);
  await boss.fail(QUEUE, id, { message });
  const after = await boss.getJobById(QUEUE, id);
  const isOver = after?.state === 'failed';
  await endJob(database, { id, worker, state: isOver ? 'failed' : 'waiting', error: message });
}

function rest(signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const timer = setTimeout(done, REST_MILLISECONDS);
    function done() {
      clearTimeout(timer);
      signal.removeEventListener('abort', done);
      resolve();
    }
    signal.addEventListener('abort', done);
  });
}
