import { goto } from '$app/navigation';
import { page } from '$app/state';
import type { z } from 'zod';
import { type AsOfContext, parseContext } from '../api/as-of-context.ts';
import { queryText } from './query-text.ts';

/** Parameters to change; undefined takes one out. */
export type AddressChanges = Record<string, string | undefined>;

/** What the page's address says, and how it is changed: all state of a view stands there. */
export class Address {
  readonly context: AsOfContext = $derived(parseContext(page.url.searchParams));

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

  /** Changes it in place; `isStep` keeps an entry in the history so that Back returns. */
  set(changes: AddressChanges, o: { isStep?: boolean } = {}): Promise<void> {
    return goto(this.href(changes), { replaceState: !o.isStep, noScroll: true, keepFocus: true });
  }
}
