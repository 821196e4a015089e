import { type Remote, wrap } from 'comlink';
import { onDestroy } from 'svelte';
import { LatestAnswer } from '../../ui/latest-answer.svelte.ts';
import type { StructureMap, StructureMapInput } from './structure-map.ts';
import type { StructureMapWorker } from './structure-map.worker.ts';

/** The map of the newest structure, computed in a thread of its own; the old one stays until it is there. */
export class MapAnswers {
  readonly #latest: LatestAnswer<StructureMapInput, StructureMap | undefined>;
  #thread: { worker: Worker; remote: Remote<StructureMapWorker> } | undefined;

  /** Must be made while a component is. @param input undefined while nothing is wanted */
  constructor(input: () => StructureMapInput | undefined) {
    this.#latest = new LatestAnswer(
      (request) => this.#remote().structureMap(request),
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

  #remote(): Remote<StructureMapWorker> {
    if (!this.#thread) {
      const worker = new Worker(new URL('./structure-map.worker.ts', import.meta.url), { type: 'module' });
      this.#thread = { worker, remote: wrap<StructureMapWorker>(worker) };
    }
    return this.#thread.remote;
  }

  /** The next question begins another. */
  #end(): void {
    this.#thread?.worker.terminate();
    this.#thread = undefined;
  }
}
