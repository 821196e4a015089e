import { untrack } from 'svelte';
import type { z } from 'zod';
import type { Route } from '../contract/route.ts';
import { addressOf, ask, type Asking, troubleText } from './ask.ts';

/** An answer that is asked for by itself, as far as who shows it needs to know. */
export interface FollowedAnswer<T> {
  readonly answer: T | undefined;
  readonly error: string | undefined;
  readonly isLoading: boolean;
  retry(): void;
}

/** Answer of a route that follows a view: the old one stays, dimmed by `isLoading`, until the new one is there. */
export class Fetched<
  P extends z.ZodObject,
  Q extends z.ZodObject,
  B extends z.ZodType,
  A extends z.ZodType,
> implements FollowedAnswer<z.output<A>> {
  answer = $state.raw<z.output<A>>();
  /** Why there is no newer answer, in words */
  error = $state<string>();
  isLoading = $state(true);
  #tries = $state(0);

  /** Must be made while a component is. @param asking undefined while nothing is wanted */
  constructor(route: Route<P, Q, B, A>, asking: () => Asking<P, Q, B> | undefined) {
    // What is asked for anew without being another need not be fetched.
    const address = $derived.by(() => {
      const asked = asking();
      return asked && addressOf(route, asked);
    });
    $effect(() => {
      void this.#tries;
      if (address === undefined) return;
      const asked = untrack(asking);
      const abort = new AbortController();
      this.isLoading = true;
      void this.#load(route, { ...asked, signal: abort.signal });
      return () => abort.abort();
    });
  }

  /** Asks once more. */
  retry(): void {
    this.#tries++;
  }

  async #load(route: Route<P, Q, B, A>, asking: Asking<P, Q, B> & { signal: AbortSignal }): Promise<void> {
    try {
      this.answer = await ask(route, asking);
      this.error = undefined;
    } catch (error) {
      if (asking.signal.aborted) return;
      this.error = troubleText(error);
    }
    this.isLoading = false;
  }
}
