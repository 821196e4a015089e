/** Something that was changed, and both ways to and fro. */
export interface Change {
  /** What it was of, in words */
  what: string;
  /** Path of the page on which it stands; it is taken back there and nowhere else */
  at: string;
  /** Whose state it changed; without the owner it cannot be taken back */
  owner?: object;
  undo(): void;
  redo(): void;
}

/** No one goes back further. */
const MOST = 200;

/** What was changed of the views in this tab, so that it can be taken back and done again. */
export class Changes {
  #done = $state.raw<readonly Change[]>([]);
  #undone = $state.raw<readonly Change[]>([]);

  /** Notes what was done; what was taken back before can then no longer be done again there. */
  note(change: Change): void {
    this.#done = [...this.#done, change].slice(-MOST);
    this.#undone = this.#undone.filter((other) => other.at !== change.at);
  }

  /** What the last change of a page was of, undefined where there is none. */
  last(at: string): string | undefined {
    return this.#done.findLast((c) => c.at === at)?.what;
  }

  /** Drops the changes of an owner that is no more. */
  forget(owner: object): void {
    this.#done = this.#done.filter((c) => c.owner !== owner);
    this.#undone = this.#undone.filter((c) => c.owner !== owner);
  }

  /** Takes the last change of a page back. @returns what it was of, undefined where there is none */
  undo(at: string): string | undefined {
    const change = this.#done.findLast((c) => c.at === at);
    if (!change) return undefined;
    this.#done = this.#done.filter((c) => c !== change);
    this.#undone = [...this.#undone, change];
    change.undo();
    return change.what;
  }

  /** Does again what was taken back last. @returns what it was of, undefined where there is none */
  redo(at: string): string | undefined {
    const change = this.#undone.findLast((c) => c.at === at);
    if (!change) return undefined;
    this.#undone = this.#undone.filter((c) => c !== change);
    this.#done = [...this.#done, change];
    change.redo();
    return change.what;
  }
}
