import { z } from 'zod';
import { LEAST_WIDTH, limitedWidth, MOST_WIDTH, type TableColumn } from './table-column.ts';

const shownSchema = z.array(z.string()).max(300);
/** What is kept of a table; a bare list is from before widths were kept. */
const stored = z.union([
  shownSchema.transform((shown) => ({ shown, widths: {} as Record<string, number> })),
  z.object({ shown: shownSchema, widths: z.record(z.string(), z.number().min(LEAST_WIDTH).max(MOST_WIDTH)) }),
]);

/** Notes a change that can be taken back. */
export type NoteChange = (change: { what: string; owner: object; undo(): void; redo(): void }) => void;

/** Which columns a table shows, in what order and how wide; kept in the browser. */
export class TableLayout {
  readonly #storage: string;
  readonly #all: ReadonlySet<string>;
  readonly #known: ReadonlySet<string>;
  readonly #note: NoteChange | undefined;
  readonly usual: readonly string[];
  shown = $state.raw<readonly string[]>([]);
  /** Pixels of the columns whose width was changed */
  widths = $state.raw<Readonly<Record<string, number>>>({});

  /**
   * @param storage name under which it is kept
   * @param columns all that there are, in the order in which they stand unless it is changed
   * @param note where changes are noted so that they can be taken back
   */
  constructor(
    storage: string,
    columns: readonly Pick<TableColumn<never>, 'id' | 'isExtra' | 'isFixed'>[],
    note?: NoteChange,
  ) {
    this.#storage = storage;
    const chosen = columns.filter((c) => !c.isFixed);
    this.#all = new Set(columns.map((c) => c.id));
    this.#known = new Set(chosen.map((c) => c.id));
    this.#note = note;
    this.usual = chosen.filter((c) => !c.isExtra).map((c) => c.id);
    this.shown = this.usual;
  }

  load(): void {
    try {
      const parsed = stored.safeParse(JSON.parse(localStorage.getItem(this.#storage) ?? 'null'));
      if (!parsed.success) return;
      const shown = [...new Set(parsed.data.shown)].filter((id) => this.#known.has(id));
      this.shown = shown.length > 0 ? shown : this.usual;
      this.widths = Object.fromEntries(Object.entries(parsed.data.widths).filter(([id]) => this.#all.has(id)));
    } catch {
      // What cannot be read counts as never kept.
    }
  }

  get isUsual(): boolean {
    return this.shown.join() === this.usual.join() && Object.keys(this.widths).length === 0;
  }

  toggle(id: string): void {
    const isShown = this.shown.includes(id);
    // The last one stays: an empty table says nothing.
    if (isShown && this.shown.length === 1) return;
    this.#keep({ shown: isShown ? this.shown.filter((c) => c !== id) : [...this.shown, id] });
  }

  /** One place further to the front or to the back. */
  move(id: string, step: 1 | -1): void {
    const at = this.shown.indexOf(id);
    const to = at + step;
    if (at < 0 || to < 0 || to >= this.shown.length) return;
    const next = [...this.shown];
    [next[at], next[to]] = [next[to], next[at]];
    this.#keep({ shown: next });
  }

  /** Gives a column a width, within what can be read and fits a screen. */
  resize(id: string, width: number): void {
    if (!Number.isFinite(width)) return;
    const pixels = limitedWidth(width);
    if (this.widths[id] !== pixels) this.#keep({ widths: { ...this.widths, [id]: pixels } });
  }

  reset(): void {
    this.#keep({ shown: this.usual, widths: {} });
  }

  #keep(change: Partial<Pick<TableLayout, 'shown' | 'widths'>>): void {
    const before = { shown: this.shown, widths: this.widths };
    const after = { ...before, ...change };
    this.#put(after);
    this.#note?.({
      what: change.shown ? 'columns' : 'width of a column',
      owner: this,
      undo: () => this.#put(before),
      redo: () => this.#put(after),
    });
  }

  #put(state: Pick<TableLayout, 'shown' | 'widths'>): void {
    this.shown = state.shown;
    this.widths = state.widths;
    try {
      localStorage.setItem(this.#storage, JSON.stringify(state));
    } catch {
      // A browser that keeps nothing shows it all the same.
    }
  }
}
