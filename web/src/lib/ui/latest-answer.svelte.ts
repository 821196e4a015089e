/**
 * The answer to the latest of many requests. While one is computed only the newest of those that follow is kept, so a
 * dragged slider never queues up work; the old answer stays, marked as old.
 */
export class LatestAnswer<Request, Answer> {
  /** Last answer and what it answers */
  answer = $state.raw<{ request: Request; value: Answer }>();
  isBusy = $state(false);
  #next: Request | undefined;
  /** As isBusy, but not reactive: whoever asks in an effect must not wait for the answer */
  #isRunning = false;
  readonly #compute: (request: Request) => Promise<Answer>;
  readonly #onerror: (error: unknown) => void;

  constructor(compute: (request: Request) => Promise<Answer>, onerror: (error: unknown) => void) {
    this.#compute = compute;
    this.#onerror = onerror;
  }

  ask(request: Request): void {
    this.#next = request;
    if (!this.#isRunning) void this.#run();
  }

  async #run(): Promise<void> {
    this.#isRunning = this.isBusy = true;
    try {
      while (this.#next !== undefined) {
        const request = this.#next;
        this.#next = undefined;
        this.answer = { request, value: await this.#compute(request) };
      }
    } catch (error) {
      this.#onerror(error);
    } finally {
      this.#isRunning = this.isBusy = false;
    }
  }
}
