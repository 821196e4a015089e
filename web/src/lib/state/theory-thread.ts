import { type Remote, wrap } from 'comlink';
import type { TheoryWorker } from '../workers/theory.worker.ts';

let remote: Remote<TheoryWorker> | undefined;

/** The thread that values listed options, one for the page, started when it is first asked. */
export function theoryThread(): Remote<TheoryWorker> {
  remote ??= wrap<TheoryWorker>(
    new Worker(new URL('../workers/theory.worker.ts', import.meta.url), { type: 'module' }),
  );
  return remote;
}
