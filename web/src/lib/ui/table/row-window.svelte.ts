import { createVirtualizer } from '@tanstack/svelte-virtual';
import { untrack } from 'svelte';
import { get } from 'svelte/store';

/** Up to here all rows are drawn: then the browser's own search finds them, and nothing is gained by less. */
const FEW_ROWS = 100;
/** From here on a table that stands on a page without a height of its own scrolls by itself. */
const MANY_ROWS = 500;
/** Drawn beyond what is in sight, on either side. */
const OVERSCAN = 4;
/** Never more at once: what scrolls may for a moment be as high as all of them. */
const MOST_ROWS = 200;
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

/** Milliseconds after which the rest of the rows is drawn, idle or not. */
const MOST_WAIT = 60;

/** Which rows of many are within what scrolls, by TanStack Virtual; all have one height. */
export class VisibleRows {
  readonly #count: () => number;
  /** Made once there is something to leave out. */
  #virtualizer = $state.raw<ReturnType<typeof createVirtualizer<HTMLElement, HTMLTableRowElement>>>();
  /** What scrolls; null where the page itself does, undefined until it is known */
  scroller = $state.raw<HTMLElement | null>();
  /** Whether many rows scroll in what the table stands in */
  hasOwnScroll = $state(false);
  rowHeight = $state(25);
  /** Where the first row stands within what scrolls */
  top = $state(0);
  #changed = $state(0);

  /** Rows of the first picture, until it stands. */
  #first = $state.raw<number>();

  /**
   * Made while a component is set up.
   * @param count how many rows there are
   * @param first how many are drawn at once where a page comes after another; the rest follow the first picture of it
   */
  constructor(count: () => number, first?: number) {
    this.#count = count;
    // A page that has just come from the server has all its rows already.
    if (first !== undefined && typeof document !== 'undefined' && document.body.dataset.live !== undefined) {
      this.#first = first;
      whenIdle(() => (this.#first = undefined));
    }
    $effect(() => {
      const { scroller, rowHeight, top } = this;
      const rows = this.#count();
      if (!this.isPartial || !scroller) return;
      // Setting options tells subscribers, which must not set them again.
      untrack(() => {
        this.#virtualizer ??= createVirtualizer<HTMLElement, HTMLTableRowElement>({
          count: rows,
          getScrollElement: () => scroller,
          estimateSize: () => rowHeight,
        });
        get(this.#virtualizer).setOptions({
          count: rows,
          getScrollElement: () => scroller,
          estimateSize: () => rowHeight,
          scrollMargin: top,
          overscan: OVERSCAN,
        });
        get(this.#virtualizer).measure();
      });
    });
    $effect(() => this.#virtualizer?.subscribe(() => untrack(() => this.#changed++)));
  }

  /**
   * Finds what scrolls, and where the rows stand in it, whenever the size of the table changes.
   * @param holder what the table stands in; many rows on a page that scrolls as a whole scroll in it
   * @returns what ends it
   */
  watch(holder: HTMLElement): (() => void) | undefined {
    const count = this.#count();
    // Few rows are all drawn, wherever they stand.
    if (count <= FEW_ROWS) return undefined;
    const observer = new ResizeObserver(() => {
      const outer = holder.parentElement && scrollerOf(holder.parentElement);
      this.hasOwnScroll = !outer && count > MANY_ROWS;
      this.scroller = this.hasOwnScroll ? holder : outer;
      const body = holder.querySelector('tbody');
      const row = body?.querySelector('tr[data-key]');
      if (!body || !row) return;
      this.rowHeight = row.getBoundingClientRect().height || this.rowHeight;
      const { scroller } = this;
      if (scroller)
        this.top = body.getBoundingClientRect().top - scroller.getBoundingClientRect().top + scroller.scrollTop;
    });
    observer.observe(holder);
    return () => observer.disconnect();
  }

  /** Whether only a part of the rows is drawn. */
  get isPartial(): boolean {
    return this.#count() > FEW_ROWS && this.scroller !== null;
  }

  /** Both ends by themselves: numbers, so that a scroll within a row changes nothing. */
  readonly #from = $derived(this.#drawn()[0]);
  readonly #to = $derived(this.#drawn()[1]);

  #drawn(): [number, number] {
    const count = this.#count();
    if (!this.isPartial) return [0, Math.min(this.#first ?? count, count)];
    void this.#changed;
    const items = this.#virtualizer ? get(this.#virtualizer).getVirtualItems() : [];
    const from = Math.min(items[0]?.index ?? 0, count);
    const to = items.length > 0 ? (items.at(-1)?.index ?? 0) + 1 : FIRST_ROWS;
    return [from, Math.min(to, from + MOST_ROWS, count)];
  }

  get window(): RowWindow {
    const [from, to] = [this.#from, this.#to];
    return { from, to, above: from * this.rowHeight, below: (this.#count() - to) * this.rowHeight };
  }

  /** As many rows as were ever drawn at once. */
  #most = 0;

  /**
   * Where in the page a row is drawn: one that leaves hands its place to the one that comes as many rows later. No two that are
   * drawn together share one.
   */
  placeOf(row: number): number {
    this.#most = Math.max(this.#most, this.#to - this.#from);
    return row % this.#most;
  }

  /** Scrolls so that a row can be seen. */
  show(row: number): void {
    if (this.isPartial && this.#virtualizer) get(this.#virtualizer).scrollToIndex(row);
  }

  /** How many rows fit at once. */
  get page(): number {
    return Math.max(1, Math.floor((this.scroller?.clientHeight ?? 600) / this.rowHeight) - 2);
  }
}

/** The nearest ancestor that scrolls up and down by itself, null where only the page does: on narrow ones, always. */
function scrollerOf(element: HTMLElement): HTMLElement | null {
  // There what could scroll is as high as all that is in it, and never does.
  if (matchMedia('(width < 900px)').matches) return null;
  for (let at: HTMLElement | null = element; at && at !== document.body; at = at.parentElement)
    if (/auto|scroll/.test(getComputedStyle(at).overflowY)) return at;
  return null;
}

/** Once the page is painted and nothing else waits; soon after the frame at the latest, and in a browser that does not tell. */
function whenIdle(run: () => void): void {
  if ('requestIdleCallback' in globalThis) requestIdleCallback(run, { timeout: MOST_WAIT });
  else requestAnimationFrame(() => setTimeout(run));
}
