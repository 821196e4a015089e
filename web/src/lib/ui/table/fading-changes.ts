/** How long a change is seen, milliseconds. */
const FADES_IN = 1600;

/**
 * Shows for a while which cells of a table have another text than before: their ground is tinted and fades. For who wants no
 * motion the tint stands still until the next change.
 * @param body whose cells they are
 * @returns ends it
 */
function fadeChanges(body: Element): () => void {
  const still = new Set<Element>();
  const isStill = () => matchMedia('(prefers-reduced-motion: reduce)').matches;
  const observer = new MutationObserver((records) => {
    const cells = new Set<Element>();
    for (const { target } of records) {
      const cell = (target instanceof Element ? target : target.parentElement)?.closest('td');
      if (cell) cells.add(cell);
    }
    for (const cell of still) cell.removeAttribute('data-changed');
    still.clear();
    for (const cell of cells) {
      if (isStill()) {
        cell.setAttribute('data-changed', '');
        still.add(cell);
      } else {
        cell.animate([{ backgroundColor: 'var(--changed)' }, { backgroundColor: 'transparent' }], {
          duration: FADES_IN,
          easing: 'ease-out',
        });
      }
    }
  });
  // Rows that come and go are no changes of what is quoted.
  observer.observe(body, { characterData: true, subtree: true });
  return () => {
    observer.disconnect();
    for (const cell of still) cell.removeAttribute('data-changed');
  };
}

/**
 * Attachment of a table's body that shows its changes.
 * @param of what the rows are of; undefined while changes are not shown. What another brings is no change of a quote.
 */
export function fading(of: string | undefined) {
  return (body: Element): (() => void) | undefined => {
    if (of === undefined) return undefined;
    let end: (() => void) | undefined;
    // The rows of another are drawn by then.
    const frame = requestAnimationFrame(() => (end = fadeChanges(body)));
    return () => {
      cancelAnimationFrame(frame);
      end?.();
    };
  };
}
