import type { DataVersion } from '../repositories/data-version.ts';

/**
 * Answers by key, each with the version of what it was made of: one that is asked for at another version is asked for anew, so that
 * any number of processes on one database agree without telling each other.
 */
export class VersionedMemory<T> {
  readonly #most: number;
  readonly #answers = new Map<string, { version: DataVersion; answer: Promise<T> }>();

  /** @param most answers that are kept, the last used ones */
  constructor(most: number) {
    this.#most = most;
  }

  /** What was last answered, at whatever version. */
  last(key: string): { version: DataVersion; answer: Promise<T> } | undefined {
    return this.#answers.get(key);
  }

  /** @param version read before `ask` is called: what changes in between is asked for once more, never missed */
  recall(key: string, version: DataVersion, ask: () => Promise<T>): Promise<T> {
    const known = this.#answers.get(key);
    this.#answers.delete(key);
    const kept = known?.version === version ? known : { version, answer: ask() };
    this.#answers.set(key, kept);
    if (this.#answers.size > this.#most) this.#answers.delete(this.#answers.keys().next().value as string);
    // A failure is told to who asked, and not remembered.
    kept.answer.catch(() => {
      if (this.#answers.get(key) === kept) this.#answers.delete(key);
    });
    return kept.answer;
  }
}
