import { MOST_TOPICS } from '../live.ts';
import type { FromStream } from './stream-protocol.ts';

const RETRY_MILLISECONDS = 1000;

/**
 * One stream for a set of topics: opens it, opens it anew when topics change or the connection breaks, and tells. The
 * server sends the newest state of every topic first, so nothing has to be asked for after a break.
 */
export class StreamClient {
  readonly #tell: (message: FromStream) => void;
  #source: EventSource | undefined;
  #topics = '';
  #isOpen = false;
  #since = Date.now();
  #retry: ReturnType<typeof setTimeout> | undefined;
  /** Newest of each kind, for a tab that comes later */
  readonly #newest = new Map<string, FromStream>();

  constructor(tell: (message: FromStream) => void) {
    this.#tell = tell;
    // A browser that comes back from being offline need not wait for the next try.
    globalThis.addEventListener('online', () => this.#open());
    globalThis.addEventListener('offline', () => this.#broken());
  }

  /** What a new tab should know at once. */
  get newest(): FromStream[] {
    return [{ type: 'connection', isOpen: this.#isOpen, since: this.#since }, ...this.#newest.values()];
  }

  show(topics: readonly string[]): void {
    // The last ones are those of the tabs that were opened last; the server takes no more.
    const key = [...new Set(topics)].slice(-MOST_TOPICS).sort().join('\n');
    if (key === this.#topics && this.#source) return;
    this.#topics = key;
    const shown = new Set(key.split('\n'));
    for (const name of this.#newest.keys()) if (name !== 'status' && !shown.has(name)) this.#newest.delete(name);
    this.#open();
  }

  close(): void {
    clearTimeout(this.#retry);
    this.#source?.close();
    this.#source = undefined;
  }

  #open(): void {
    this.close();
    const query = new URLSearchParams();
    for (const topic of this.#topics.split('\n')) if (topic !== '') query.append('topic', topic);
    const source = new EventSource(`/api/v1/stream?${query}`);
    this.#source = source;
    source.addEventListener('open', () => this.#connected(true));
    source.addEventListener('error', () => this.#broken());
    source.addEventListener('status', (event: MessageEvent<string>) => {
      this.#keep('status', { type: 'status', data: event.data });
    });
    source.addEventListener('picture', (event: MessageEvent<string>) => {
      const topic = topicOf(event.data);
      this.#keep(topic, { type: 'picture', topic, data: event.data });
    });
  }

  #keep(name: string, message: FromStream): void {
    this.#newest.set(name, message);
    this.#tell(message);
  }

  #broken(): void {
    this.#connected(false);
    this.close();
    this.#retry = setTimeout(() => this.#open(), RETRY_MILLISECONDS);
  }

  #connected(isOpen: boolean): void {
    if (isOpen === this.#isOpen) return;
    this.#isOpen = isOpen;
    this.#since = Date.now();
    this.#tell({ type: 'connection', isOpen, since: this.#since });
  }
}

/** The topic stands first in the event's data; the rest need not be parsed to find it. */
function topicOf(data: string): string {
  const match = /^\{"topic":("(?:[^"\\]|\\.)*")/.exec(data);
  return match ? (JSON.parse(match[1]) as string) : '';
}
