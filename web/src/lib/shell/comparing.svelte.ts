import { untrack } from 'svelte';
import { type Comparison, comparisonText } from '../api/comparison.ts';
import type { SurfaceResource } from '../api/surface-resource.ts';

/** What is held beside the shown underlying, or why it is not there (yet). */
export interface Compared<S extends SurfaceResource> {
  comparison: Comparison;
  /** As in the address */
  text: string;
  picture?: S;
  trouble?: string;
}

interface Known<S> {
  /** Symbol and instant it was asked for */
  of: string;
  picture?: S;
  trouble?: string;
}

/** Others beside the shown underlying; each is asked for once an instant, the old one stays until the new one is there. */
export class Comparing<S extends SurfaceResource> {
  #known = $state.raw<Record<string, Known<S>>>({});
  readonly #wanted: () => Comparison[];
  readonly #load: (symbol: string, asOf: string, signal: AbortSignal) => Promise<S>;

  /**
   * Must be made while a component is.
   * @param asOf instant of those that name none
   * @param load as much of one as the view draws
   */
  constructor(
    wanted: () => Comparison[],
    asOf: () => string,
    load: (symbol: string, asOf: string, signal: AbortSignal) => Promise<S>,
  ) {
    this.#wanted = wanted;
    this.#load = load;
    $effect(() => {
      const abort = new AbortController();
      for (const comparison of wanted()) {
        const at = comparison.asOf ?? asOf();
        // What arrives must not ask for it again.
        untrack(() => void this.#ask(comparison, at, abort.signal));
      }
      return () => abort.abort();
    });
  }

  get list(): Compared<S>[] {
    return this.#wanted().map((comparison) => {
      const text = comparisonText(comparison);
      return { comparison, text, picture: this.#known[text]?.picture, trouble: this.#known[text]?.trouble };
    });
  }

  /** Those that have arrived. */
  get pictures(): S[] {
    return this.list.flatMap(({ picture }) => (picture ? [picture] : []));
  }

  async #ask(comparison: Comparison, asOf: string, signal: AbortSignal): Promise<void> {
    const text = comparisonText(comparison);
    const of = `${comparison.symbol}@${asOf}`;
    const known = this.#known[text] as Known<S> | undefined;
    if (known?.of === of && known.trouble === undefined) return;
    try {
      const picture = await this.#load(comparison.symbol, asOf, signal);
      this.#known = { ...this.#known, [text]: { of, picture } };
    } catch (error) {
      if (signal.aborted) return;
      const trouble = error instanceof Error ? error.message : 'no answer';
      this.#known = { ...this.#known, [text]: { of, picture: this.#known[text]?.picture, trouble } };
    }
  }
}
