import { createVirtualizer } from '@tanstack/svelte-virtual';
import { untrack } from 'svelte';
import { get } from 'svelte/store';

/** Up to here all rows are drawn: then the browser's own search finds them, and nothing is gained by less. */
export const FEW_ROWS = 100;
/** From here on a table that stands on a page without a height of its own scrolls by itself. */
export const MANY_ROWS = 500;
/** Drawn beyond what is in sight, on either side. */
const OVERSCAN = 8;
/** Drawn until it is known how many fit. */
const FIRST_ROWS = 40;

/** The part of a table's rows that is drawn. */
export interface RowWindow {
  from: number;
  to: number;
  /** Pixels that the rows before and after take */
  above: number;
  below: number;
}

/** Which rows of many are within what scrolls, by TanStack Virtual; all have one height. */
export class VisibleRows {
  readonly #count: () => number;
  readonly #virtualizer = createVirtualizer<HTMLElement, HTMLTableRowElement>({
    count: 0,
    getScrollElement: () => null,
    estimateSize: () => 25,
    enabled: false,
  });
  /** What scrolls; null where the page itself does, undefined until it is known */
  scroller = $state.raw<HTMLElement | null>();
  rowHeight = $state(25);
  /** Where the first row stands within what scrolls */
  top = $state(0);
  #changed = $state(0);

  /** Made while a component is set up. @param count how many rows there are */
  constructor(count: () => number) {
    this.#count = count;
    $effect(() => this.#virtualizer.subscribe(() => untrack(() => this.#changed++)));
    $effect(() => {
      const { scroller, rowHeight, top, isPartial } = this;
      const rows = this.#count();
      // Setting options tells subscribers, which must not set them again.
      untrack(() => {
        get(this.#virtualizer).setOptions({
          count: rows,
          enabled: isPartial && Boolean(scroller),
          getScrollElement: () => scroller ?? null,
          estimateSize: () => rowHeight,
          scrollMargin: top,
          overscan: OVERSCAN,
        });
        get(this.#virtualizer).measure();
      });
    });
  }

  /** Whether only a part of the rows is drawn. */
  get isPartial(): boolean {
    return this.#count() > FEW_ROWS && this.scroller !== null;
  }

  /** First row drawn, and the one after the last: numbers, so that a scroll within a row changes nothing. */
  readonly #from = $derived(this.#drawn()[0]);
  readonly #to = $derived(this.#drawn()[1]);

  #drawn(): [number, number] {
    const count = this.#count();
    if (!this.isPartial) return [0, count];
    void this.#changed;
    const items = this.scroller ? get(this.#virtualizer).getVirtualItems() : [];
    const from = Math.min(items[0]?.index ?? 0, count);
    return [from, items.length > 0 ? Math.min((items.at(-1)?.index ?? 0) + 1, count) : Math.min(FIRST_ROWS, count)];
  }

  readonly window: RowWindow = $derived({
    from: this.#from,
    to: this.#to,
    above: this.#from * this.rowHeight,
    below: (this.#count() - this.#to) * this.rowHeight,
  });

  /** More rows than are ever drawn at once: a row that leaves hands its place in the page to the one that comes as many later. */
  readonly places = $derived(
    Math.max(FIRST_ROWS, Math.ceil((this.scroller?.clientHeight ?? 0) / this.rowHeight)) + 2 * OVERSCAN + 2,
  );

  /** Scrolls so that a row can be seen. */
  show(row: number): void {
    if (this.isPartial) get(this.#virtualizer).scrollToIndex(row);
  }

  /** How many rows fit at once. */
  get page(): number {
    return Math.max(1, Math.floor((this.scroller?.clientHeight ?? 600) / this.rowHeight) - 2);
  }
}

/** The nearest ancestor that scrolls up and down by itself, null where only the page does. */
export function scrollerOf(element: HTMLElement): HTMLElement | null {
  for (let at: HTMLElement | null = element; at && at !== document.body; at = at.parentElement)
    if (/auto|scroll/.test(getComputedStyle(at).overflowY)) return at;
  return null;
}
