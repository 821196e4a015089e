import { type Remote, wrap } from 'comlink';
import { onDestroy } from 'svelte';
import { LatestAnswer } from '../../ui/latest-answer.svelte.ts';
import type { ProfitMap, ProfitMapInput } from './profit-map.ts';
import type { ProfitMapWorker } from './profit-map.worker.ts';

/** The map of the newest structure, computed in a thread of its own; the old one stays until it is there. */
export class MapAnswers {
  readonly #latest: LatestAnswer<ProfitMapInput, ProfitMap | undefined>;
  #thread: { worker: Worker; remote: Remote<ProfitMapWorker> } | undefined;

  /** Must be made while a component is. @param input undefined while nothing is wanted */
  constructor(input: () => ProfitMapInput | undefined) {
    this.#latest = new LatestAnswer(
      (request) => this.#remote().profitMap(request),
      () => this.#end(),
    );
    $effect(() => {
      const asked = input();
      if (asked) this.#latest.ask(asked);
    });
    onDestroy(() => this.#end());
  }

  get answer() {
    return this.#latest.answer;
  }

  #remote(): Remote<ProfitMapWorker> {
    if (!this.#thread) {
      const worker = new Worker(new URL('./profit-map.worker.ts', import.meta.url), { type: 'module' });
      this.#thread = { worker, remote: wrap<ProfitMapWorker>(worker) };
    }
    return this.#thread.remote;
  }

  /** The next question begins another. */
  #end(): void {
    this.#thread?.worker.terminate();
    this.#thread = undefined;
  }
}
