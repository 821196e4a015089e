import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { builtProcess } from '../processes/built-process.ts';
import { FairTurns } from './fair-turns.ts';
import type { ComputeTask, ComputeTasks } from './tasks.ts';

/** Two at least, so that long work leaves a place for short work. */
const THREADS = Math.max(2, availableParallelism());
/** Memory of one thread, without buffers. */
const MOST_MEGABYTES = 1536;
/** Pieces of work that may wait; beyond it who asks is told to come back. */
const MOST_WAITING = 500;

let pool: Piscina | undefined;
let turns = new FairTurns({ places: THREADS, mostWaiting: MOST_WAITING });

function threads(): Piscina {
  if (pool) return pool;
  process.once('sveltekit:shutdown', () => void closeComputePool());
  pool = new Piscina({
    filename: builtProcess('compute'),
    maxThreads: THREADS,
    minThreads: 0,
    // The modules build tables when loaded; a thread is kept for a while.
    idleTimeout: 60_000,
    // One that is given more than this ends alone, and who asked is told; the process lives on.
    resourceLimits: { maxOldGenerationSizeMb: MOST_MEGABYTES },
  });
  return pool;
}

/**
 * Computes in a worker thread, in fair turns with all others who ask.
 * @param o.lane whose turn it takes, such as a request or an underlying
 * @param o.isLong whether it may take much longer than a turn; such work never has all threads
 * @param o.signal ends it, also in the middle: its thread is stopped at once
 * @throws TooBusy; the signal's reason; what the task threw
 */
export function compute<N extends ComputeTask>(
  name: N,
  task: ComputeTasks[N][0],
  o: { lane: string; isLong?: boolean; signal?: AbortSignal; transfer?: ArrayBuffer[] },
): Promise<ComputeTasks[N][1]> {
  const { lane, isLong = false, signal, transfer } = o;
  return turns.run(
    async () => {
      const answer: unknown = await threads().run(task, { name, signal, transferList: transfer });
      return answer as ComputeTasks[N][1];
    },
    { lane, isLong, signal },
  );
}

/** Whether the threads have nothing to do, so that something may be computed that nobody has asked for yet. */
export function isComputeIdle(): boolean {
  return turns.isIdle;
}

/** Ends the threads, if any were started. */
export async function closeComputePool(): Promise<void> {
  const closing = pool;
  pool = undefined;
  turns = new FairTurns({ places: THREADS, mostWaiting: MOST_WAITING });
  await closing?.destroy();
}
