import { symbolPart } from '@umwelt/market/symbol';
import { untrack } from 'svelte';
import { z } from 'zod';
import { type Comparison, comparisonText } from '../api/as-of-context.ts';
import type { Picture } from '../api/picture.ts';

/** A picture held beside the one that is shown, or why it is not there (yet). */
export interface Compared {
  comparison: Comparison;
  /** As in the URL */
  text: string;
  picture?: Picture;
  trouble?: string;
}

const problem = z.object({ detail: z.string() });

/** Pictures beside the one that is shown; each is asked for once an instant, the old one stays until the new one is there. */
export class Comparisons {
  #known = $state.raw<Record<string, { address: string; picture?: Picture; trouble?: string }>>({});
  readonly #wanted: () => Comparison[];

  /** Must be made while a component is. @param asOf instant of those that name none */
  constructor(wanted: () => Comparison[], asOf: () => string) {
    this.#wanted = wanted;
    $effect(() => {
      const abort = new AbortController();
      for (const comparison of wanted()) {
        const query = new URLSearchParams({ asOf: comparison.asOf ?? asOf() });
        const address = `/api/v1/underlyings/${symbolPart(comparison.symbol)}/picture?${query}`;
        // What arrives must not ask for it again.
        untrack(() => void this.#load(comparisonText(comparison), address, abort));
      }
      return () => abort.abort();
    });
  }

  get list(): Compared[] {
    return this.#wanted().map((comparison) => {
      const text = comparisonText(comparison);
      return { comparison, text, picture: this.#known[text]?.picture, trouble: this.#known[text]?.trouble };
    });
  }

  async #load(text: string, address: string, { signal }: AbortController): Promise<void> {
    if (this.#known[text]?.address === address && this.#known[text].trouble === undefined) return;
    try {
      const response = await fetch(address, { signal });
      const body: unknown = await response.json();
      if (!response.ok)
        throw new Error(problem.safeParse(body).data?.detail ?? `the server answered ${response.status}`);
      // Our own server's answer; its schema is that of the page's own picture.
      this.#known = { ...this.#known, [text]: { address, picture: body as Picture } };
    } catch (error) {
      if (signal.aborted) return;
      const trouble = error instanceof Error ? error.message : 'no answer';
      this.#known = { ...this.#known, [text]: { address, picture: this.#known[text]?.picture, trouble } };
    }
  }
}
