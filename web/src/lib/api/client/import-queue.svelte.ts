import { FileImport } from './file-import.svelte.ts';

/** Files that were dropped together or one after the other, looked at one by one. */
export class ImportQueue {
  items = $state.raw<FileImport[]>([]);
  selected = $state.raw<FileImport>();
  /** How many are being looked at or imported */
  working = $state(0);

  get ready(): FileImport[] {
    return this.items.filter((item) => item.isReady);
  }

  /** Takes files in and looks at them; calls and puts that came apart are joined. */
  async add(files: readonly File[]): Promise<void> {
    // What was stored before makes room for what comes.
    this.items = [...this.items.filter((item) => !item.outcome), ...files.map((file) => new FileImport(file))];
    this.selected = this.items.find((item) => files.includes(item.file));
    this.working++;
    try {
      for (const item of this.items) if (!item.preview && !item.trouble) await item.look();
      await this.#joinSides();
    } finally {
      this.working--;
    }
  }

  /** Imports every file that is ready, in order; what is refused stays with its reasons. */
  async storeAll(): Promise<void> {
    if (this.working > 0) return;
    this.working++;
    try {
      for (const item of this.ready) {
        this.selected = item;
        await item.store();
      }
    } finally {
      this.working--;
    }
  }

  remove(item: FileImport): void {
    item.cancel();
    item.clear();
    this.items = this.items.filter((i) => i !== item);
    if (this.selected === item) this.selected = this.items[0];
  }

  async #joinSides(): Promise<void> {
    for (const calls of this.items) {
      if (calls.side !== 'call' || calls.beside || calls.outcome) continue;
      const puts = this.items.find((other) => other.side === 'put' && !other.outcome && areAlike(calls, other));
      if (!puts) continue;
      this.items = this.items.filter((item) => item !== puts);
      if (this.selected === puts) this.selected = calls;
      await calls.join(puts);
    }
  }
}

/** Whether two files have the same columns, underlyings and instants. */
function areAlike(a: FileImport, b: FileImport): boolean {
  const key = ({ chain }: FileImport) =>
    JSON.stringify([chain?.headers, chain?.whole?.instants, chain?.whole?.underlyings.map((u) => u.symbol)]);
  return key(a) === key(b);
}
