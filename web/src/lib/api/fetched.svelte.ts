import type { z } from 'zod';

/** Answer of an API address that follows a view: the old one stays, dimmed by `isLoading`, until the new one is there. */
export class Fetched<T> {
  answer = $state.raw<T>();
  error = $state<string>();
  isLoading = $state(true);

  /** Must be made while a component is. @param address undefined while nothing is wanted */
  constructor(schema: z.ZodType<T>, address: () => string | undefined) {
    $effect(() => {
      const url = address();
      if (url === undefined) return;
      const abort = new AbortController();
      this.isLoading = true;
      void this.#load(schema, url, abort.signal);
      return () => abort.abort();
    });
  }

  async #load(schema: z.ZodType<T>, url: string, signal: AbortSignal): Promise<void> {
    try {
      const response = await fetch(url, { signal });
      if (!response.ok) throw new Error(`the server answered ${response.status}`);
      this.answer = schema.parse(await response.json());
      this.error = undefined;
    } catch (error) {
      if (signal.aborted) return;
      this.error = error instanceof Error ? error.message : 'no answer';
    }
    this.isLoading = false;
  }
}
