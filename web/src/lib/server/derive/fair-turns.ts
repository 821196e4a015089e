/** Thrown instead of letting a queue grow without bound. */
export class TooBusy extends Error {
  constructor(waiting: number) {
    super(`${waiting} computations wait already`);
    this.name = 'TooBusy';
  }
}

interface Waiting {
  isLong: boolean;
  begin: () => void;
}

/**
 * Who computes next where many ask: one turn a lane in rotation, so that a lane with thousands of pieces of work keeps
 * nobody else waiting for more than a piece. Long work never has all places, so that short work always finds one.
 */
export class FairTurns {
  readonly #places: number;
  readonly #mostWaiting: number;
  /** In the order of their turns */
  readonly #lanes = new Map<string, Waiting[]>();
  #running = 0;
  #longRunning = 0;
  #waiting = 0;

  constructor(o: { places: number; mostWaiting: number }) {
    this.#places = o.places;
    this.#mostWaiting = o.mostWaiting;
  }

  /** Whether nothing runs and nobody waits. */
  get isIdle(): boolean {
    return this.#running === 0 && this.#waiting === 0;
  }

  /**
   * Runs a piece of work when its turn comes.
   * @param o.signal takes it out while it waits; once begun, ending it is the work's own business
   * @throws TooBusy when too many wait; the signal's reason when it was taken out
   */
  async run<T>(work: () => Promise<T>, o: { lane: string; isLong: boolean; signal?: AbortSignal }): Promise<T> {
    await this.#turn(o);
    try {
      return await work();
    } finally {
      this.#running--;
      if (o.isLong) this.#longRunning--;
      this.#next();
    }
  }

  #turn({ lane, isLong, signal }: { lane: string; isLong: boolean; signal?: AbortSignal }): Promise<void> {
    signal?.throwIfAborted();
    if (this.#waiting >= this.#mostWaiting) throw new TooBusy(this.#waiting);
    return new Promise<void>((resolve, reject) => {
      const leave = () => {
        this.#remove(lane, waiting);
        reject(signal?.reason as Error);
      };
      const waiting: Waiting = {
        isLong,
        begin: () => {
          signal?.removeEventListener('abort', leave);
          resolve();
        },
      };
      signal?.addEventListener('abort', leave, { once: true });
      const line = this.#lanes.get(lane);
      if (line) line.push(waiting);
      else this.#lanes.set(lane, [waiting]);
      this.#waiting++;
      this.#next();
    });
  }

  #remove(lane: string, waiting: Waiting): void {
    const line = this.#lanes.get(lane);
    const place = line?.indexOf(waiting) ?? -1;
    if (!line || place < 0) return;
    line.splice(place, 1);
    if (line.length === 0) this.#lanes.delete(lane);
    this.#waiting--;
  }

  #next(): void {
    while (this.#running < this.#places) {
      const turn = [...this.#lanes].find(([, line]) => !line[0].isLong || this.#longRunning < this.#places - 1);
      if (!turn) return;
      const [lane, line] = turn;
      const first = line[0];
      this.#remove(lane, first);
      // Its next piece comes after everybody else's.
      if (line.length > 0) {
        this.#lanes.delete(lane);
        this.#lanes.set(lane, line);
      }
      this.#running++;
      if (first.isLong) this.#longRunning++;
      first.begin();
    }
  }
}
