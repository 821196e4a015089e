/**
 * One browser on the stream. A slow one never gets a growing queue: while its connection is full, only the newest state of
 * each topic is remembered, and sent when there is room.
 */
export class Listener {
  readonly topics: readonly string[];
  /** Who listens, by its address */
  readonly client: string;
  readonly #waiting = new Map<string, Uint8Array>();
  #controller: ReadableStreamDefaultController<Uint8Array> | undefined;
  readonly stream: ReadableStream<Uint8Array>;

  /** @param onclose called once when the browser has gone */
  constructor(o: { topics: readonly string[]; client: string }, onclose: (listener: Listener) => void) {
    this.topics = o.topics;
    this.client = o.client;
    this.stream = new ReadableStream<Uint8Array>(
      {
        start: (controller) => {
          this.#controller = controller;
        },
        pull: () => this.#drain(),
        cancel: () => {
          this.#controller = undefined;
          onclose(this);
        },
      },
      // Room for a status and a picture; beyond it a newer state replaces an older one.
      { highWaterMark: 2 },
    );
  }

  /** Sends an event, or keeps it, in place of an older one of the same key, until there is room. */
  send(key: string, bytes: Uint8Array): void {
    // Taken out first, so that the newest comes last.
    this.#waiting.delete(key);
    this.#waiting.set(key, bytes);
    this.#drain();
  }

  close(): void {
    this.#controller?.close();
    this.#controller = undefined;
  }

  #drain(): void {
    const controller = this.#controller;
    for (const [key, bytes] of this.#waiting) {
      if (!controller || (controller.desiredSize ?? 0) <= 0) return;
      this.#waiting.delete(key);
      controller.enqueue(bytes);
    }
  }
}

const encoder = new TextEncoder();

/** Bytes of one server-sent event (HTML standard, section 9.2). @param data one line */
export function eventBytes(event: string, data: string, id?: number): Uint8Array {
  return encoder.encode(`${id === undefined ? '' : `id: ${id}\n`}event: ${event}\ndata: ${data}\n\n`);
}
