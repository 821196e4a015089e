let last: Promise<void> = Promise.resolve();

/**
 * Resolves when it is a page's turn to be rendered: one a round of the event loop. Many pages that waited for the same picture
 * would else be rendered in one go, and everything else would wait for all of them.
 */
export function pageTurn(): Promise<void> {
  last = last.then(() => new Promise((resolve) => setImmediate(resolve)));
  return last;
}
