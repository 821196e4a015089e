import { z } from 'zod';
import { type ChainColumnId, knownColumns, movedColumn, USUAL_COLUMNS } from './chain-columns.ts';

const STORAGE = 'chain-columns';
const stored = z.array(z.string()).max(100);

/** Which columns the ladder shows and in what order; kept in the browser. */
export class ChainColumns {
  shown = $state<ChainColumnId[]>([...USUAL_COLUMNS]);

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
    this.shown = columns;
    localStorage.setItem(STORAGE, JSON.stringify(columns));
  }
}
