import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';

/** The built worker beside the built server; else, in development and tests, its source through the loader. */
function workerFile(): { filename: string; execArgv?: string[] } {
  const built = join(dirname(process.argv[1] ?? ''), 'workers', 'rows.js');
  if (existsSync(built)) return { filename: built };
  return {
    filename: fileURLToPath(new URL('rows.worker.ts', import.meta.url)),
    execArgv: ['--import', 'tsx'],
  };
}

let pool: Piscina | undefined;

/** Worker threads for heavy computation, started on first use; one core is left to the server itself. */
export function computePool(): Piscina {
  if (pool) return pool;
  process.once('sveltekit:shutdown', () => void closeComputePool());
  pool = new Piscina({
    ...workerFile(),
    maxThreads: Math.max(1, availableParallelism() - 1),
    // The modules build tables when loaded; a thread is kept for a while.
    idleTimeout: 60_000,
    minThreads: 0,
  });
  return pool;
}

/** Ends the threads, if any were started. */
export async function closeComputePool(): Promise<void> {
  const closing = pool;
  pool = undefined;
  await closing?.destroy();
}
