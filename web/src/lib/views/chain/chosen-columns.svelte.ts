import { z } from 'zod';
import { page } from '$app/state';
import type { Changes } from '../../shell/changes.svelte.ts';
import { type ChainColumnId, knownColumns, movedColumn, USUAL_COLUMNS } from './chain-columns.ts';

const STORAGE = 'chain-columns';
const stored = z.array(z.string()).max(100);

/** Which columns the ladder shows and in what order; kept in the browser. */
export class ChainColumns {
  readonly #changes: Changes | undefined;
  shown = $state<ChainColumnId[]>([...USUAL_COLUMNS]);

  /** @param changes where changes are noted so that they can be taken back */
  constructor(changes?: Changes) {
    this.#changes = changes;
  }

  load(): void {
    try {
      const parsed = stored.safeParse(JSON.parse(localStorage.getItem(STORAGE) ?? 'null'));
      if (parsed.success) this.shown = knownColumns(parsed.data);
    } catch {
      // What cannot be read counts as never kept.
    }
  }

  get isUsual(): boolean {
    return this.shown.join() === USUAL_COLUMNS.join();
  }

  /** Once no ladder shows them any more. */
  leave(): void {
    this.#changes?.forget(this);
  }

  toggle(id: ChainColumnId): void {
    const isShown = this.shown.includes(id);
    // The last one stays: an empty ladder says nothing.
    if (isShown && this.shown.length === 1) return;
    this.#keep(isShown ? this.shown.filter((c) => c !== id) : [...this.shown, id]);
  }

  move(id: ChainColumnId, step: 1 | -1): void {
    this.#keep(movedColumn(this.shown, id, step));
  }

  reset(): void {
    this.#keep([...USUAL_COLUMNS]);
  }

  #keep(columns: ChainColumnId[]): void {
    const before = this.shown;
    this.#put(columns);
    this.#changes?.note({
      what: 'columns',
      at: page.url.pathname,
      owner: this,
      undo: () => this.#put(before),
      redo: () => this.#put(columns),
    });
  }

  #put(columns: ChainColumnId[]): void {
    this.shown = columns;
    localStorage.setItem(STORAGE, JSON.stringify(columns));
  }
}
