import { type Remote, wrap } from 'comlink';
import { onDestroy } from 'svelte';
import { LatestAnswer } from '../../ui/latest-answer.svelte.ts';
import type { StructureWorker } from './structure.worker.ts';

/** What a thread of its own computes of the newest structure; the old answer stays until the new one is there. */
export class StructureAnswers<Request extends object, Answer> {
  readonly #latest: LatestAnswer<Request, Answer>;
  #thread: { worker: Worker; remote: Remote<StructureWorker> } | undefined;
  /** Why the newest could not be computed, when it could not */
  trouble = $state<string>();

  /**
   * Must be made while a component is.
   * @param input undefined while nothing is wanted
   */
  constructor(
    input: () => Request | undefined,
    compute: (thread: Remote<StructureWorker>, o: Request) => Promise<Answer>,
  ) {
    this.#latest = new LatestAnswer(
      async (request) => {
        const answer = await compute(this.#remote(), request);
        this.trouble = undefined;
        return answer;
      },
      (error) => {
        this.trouble = error instanceof Error ? error.message : String(error);
        this.#end();
      },
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

  #remote(): Remote<StructureWorker> {
    if (!this.#thread) {
      const worker = new Worker(new URL('./structure.worker.ts', import.meta.url), { type: 'module' });
      this.#thread = { worker, remote: wrap<StructureWorker>(worker) };
    }
    return this.#thread.remote;
  }

  /** The next question begins another. */
  #end(): void {
    this.#thread?.worker.terminate();
    this.#thread = undefined;
  }
}
