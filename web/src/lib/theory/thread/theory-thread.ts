import { type Remote, wrap } from 'comlink';
import type { TheoryWorker } from './theory.worker.ts';

interface Thread {
  remote: Remote<TheoryWorker>;
  /** Rejects when the thread cannot be started or ends by an error that no call owns */
  failure: Promise<never>;
}
let thread: Thread | undefined;

function started(): Thread {
  if (thread) return thread;
  const worker = new Worker(new URL('./theory.worker.ts', import.meta.url), { type: 'module' });
  const failure = new Promise<never>((_, reject) => {
    worker.onerror = () => {
      // The next question tries again.
      thread = undefined;
      worker.terminate();
      reject(new Error('the computing thread could not be started'));
    };
  });
  failure.catch(() => undefined);
  thread = { remote: wrap<TheoryWorker>(worker), failure };
  return thread;
}

/** Asks the page's one thread that values listed options; it is started with the first question. */
export function askTheory<T>(question: (remote: Remote<TheoryWorker>) => Promise<T>): Promise<T> {
  const { remote, failure } = started();
  return Promise.race([question(remote), failure]);
}
