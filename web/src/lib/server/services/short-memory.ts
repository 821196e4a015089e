/**
 * Answers that are asked for again and again within a moment, by key: the first one asks, those who come within its time get the
 * same. For what may be a second old anywhere, such as which instants are stored; whoever changes it here forgets it at once.
 */
export class ShortMemory<T> {
  readonly #milliseconds: number;
  readonly #answers = new Map<string, { at: number; answer: Promise<T> }>();

  constructor(milliseconds: number) {
    this.#milliseconds = milliseconds;
  }

  recall(key: string, ask: () => Promise<T>): Promise<T> {
    const now = performance.now();
    const known = this.#answers.get(key);
    if (known && now - known.at < this.#milliseconds) return known.answer;
    if (known) this.#sweep(now);
    const answer = ask();
    this.#answers.set(key, { at: now, answer });
    // A failure is told to who asked, and not remembered.
    answer.catch(() => this.#answers.delete(key));
    return answer;
  }

  forget(): void {
    this.#answers.clear();
  }

  #sweep(now: number): void {
    for (const [key, { at }] of this.#answers) if (now - at >= this.#milliseconds) this.#answers.delete(key);
  }
}
