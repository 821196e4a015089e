import type PgBoss from 'pg-boss';
import { openQueue } from './queue.ts';
import { readEnvironment } from '../processes/environment.ts';

let queue: Promise<PgBoss> | undefined;

/** This server's queue of jobs, opened on first use. */
export function jobQueue(): Promise<PgBoss> {
  queue ??= openQueue(readEnvironment().DATABASE_URL).then((opened) => {
    process.once('sveltekit:shutdown', () => void opened.stop({ graceful: false }));
    return opened;
  });
  // One that could not be opened is tried again.
  queue.catch(() => (queue = undefined));
  return queue;
}
