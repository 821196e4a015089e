import { page } from './state.svelte.ts';

/** Where the page was told to go, and how. */
export const went: { href: string; isReplaced: boolean }[] = [];
/** What was fetched ahead. */
export const preloaded: string[] = [];

/** Goes at once, as when nothing has to be loaded. */
export function goto(href: string, o: { replaceState?: boolean } = {}): Promise<void> {
  went.push({ href, isReplaced: o.replaceState ?? false });
  page.url = new URL(href, page.url);
  return Promise.resolve();
}

export function preloadData(href: string): Promise<void> {
  preloaded.push(href);
  return Promise.resolve();
}
