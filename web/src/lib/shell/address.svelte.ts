import { goto } from '$app/navigation';
import { page } from '$app/state';
import type { z } from 'zod';
import { type AsOfContext, type ExpirySet, parseContext } from '../api/as-of-context.ts';
import type { Changes } from './changes.svelte.ts';
import { queryText } from './query-text.ts';

/** Parameters to change; undefined takes one out. */
export type AddressChanges = Record<string, string | undefined>;

/** Parameters whose change can be taken back, in words; going elsewhere is what Back is for. */
const UNDOABLE: Readonly<Record<string, string>> = {
  expiries: 'expiries shown',
  restored: 'quotes put back',
  forwardSource: 'forward',
  carry: 'carry',
  financing: 'financing',
  borrowCost: 'cost to borrow',
  volatilitySource: 'volatility for theory',
  typedVolatility: 'volatility for theory',
  compare: 'what stands beside',
  lines: 'lines shown',
  legs: 'picked options',
  implied: 'implied volatility that is followed',
  days: 'days of implied volatility',
  estimator: 'estimator of realized volatility',
  window: 'sessions of realized volatility',
  withoutEvents: 'events',
  over: 'past that is looked at',
};
/** What is typed: every letter makes another, and all of them are one change. */
const TYPED: readonly string[] = ['financing', 'borrowCost', 'typedVolatility'];

/** What the page's address says, and how it is changed: all state of a view stands there. */
export class Address {
  readonly #changes: Changes | undefined;
  /** The change that is being typed. */
  #typing: { names: string | undefined; at: string; before: AddressChanges; after: AddressChanges } | undefined;

  readonly #opening: () => ExpirySet;

  /**
   * @param changes where changes are noted so that they can be taken back
   * @param opening expiries that are shown where none are chosen
   */
  constructor(changes?: Changes, opening: () => ExpirySet = () => 'all') {
    this.#changes = changes;
    this.#opening = opening;
  }

  readonly context: AsOfContext = $derived.by(() => {
    const context = parseContext(page.url.searchParams);
    return { ...context, expiries: context.expiries ?? this.#opening() };
  });

  get opening(): ExpirySet {
    return this.#opening();
  }

  /** What it says by a view's own schema. */
  own<S extends z.ZodType>(schema: S): z.output<S> {
    return schema.parse(Object.fromEntries(page.url.searchParams));
  }

  /** The address with some parameters changed. */
  href(changes: AddressChanges): string {
    const parameters = new URLSearchParams(page.url.searchParams);
    // An expiry that is chosen, or let go, ends the search for a tenor.
    if ('expiry' in changes) parameters.delete('tenor');
    for (const [name, value] of Object.entries(changes)) {
      if (value === undefined) parameters.delete(name);
      else parameters.set(name, value);
    }
    return page.url.pathname + queryText(parameters);
  }

  /**
   * Changes it in place; `isStep` keeps an entry in the history so that Back returns. What can be taken back is noted and kept
   * there anyhow, but for a number while it is typed.
   */
  set(changes: AddressChanges, o: { isStep?: boolean } = {}): Promise<void> {
    const isKept = this.#note(changes);
    return this.#go(changes, { isStep: o.isStep ?? isKept });
  }

  #go(changes: AddressChanges, o: { isStep: boolean }): Promise<void> {
    return goto(this.href(changes), { replaceState: !o.isStep, noScroll: true, keepFocus: true });
  }

  /** Whether it was noted as a change of its own. */
  #note(changes: AddressChanges): boolean {
    const { pathname: at, searchParams } = page.url;
    const before = Object.fromEntries(Object.keys(changes).map((name) => [name, searchParams.get(name) ?? undefined]));
    const changed = Object.keys(changes).filter((name) => name in UNDOABLE && before[name] !== changes[name]);
    if (!this.#changes || changed.length === 0) return false;
    const typed = changed.every((name) => TYPED.includes(name)) ? changed.join() : undefined;
    if (typed !== undefined && this.#typing?.names === typed && this.#typing.at === at) {
      this.#typing.after = changes;
      return false;
    }
    const change = { names: typed, at, before, after: changes };
    this.#typing = typed === undefined ? undefined : change;
    const go = (to: AddressChanges) => {
      this.#typing = undefined;
      void this.#go(to, { isStep: true });
    };
    this.#changes.note({
      what: UNDOABLE[changed[0]],
      at,
      undo: () => go(change.before),
      redo: () => go(change.after),
    });
    return true;
  }
}
