import { LIVE } from '../../api/as-of-context.ts';
import { parseTopic, type StreamStatus } from '../../api/live.ts';
import type { Connection } from '../database/connect.ts';
import { listen } from '../database/listen.ts';
import { readFeed, watch } from '../repositories/feed.ts';
import { jobGroups } from '../repositories/jobs.ts';
import { listProcesses } from '../repositories/processes.ts';
import { feedStatusOf } from '../services/feed-control.ts';
import { loadPicture } from '../services/picture.ts';
import { eventBytes, Listener } from './listener.ts';

const STATUS_MILLISECONDS = 1000;
const WATCH_EVERY = 4;

/** How much one server carries. */
export interface HubLimits {
  /** Different topics that are derived at one time */
  topics: number;
  /** Connections of one client, and of all together */
  perClient: number;
  all: number;
}

/**
 * Brings the feed's waves and the progress of jobs to every browser of this server: hears the database's notices, derives
 * the picture of each topic once a wave, and sends the same bytes to all who show it.
 */
export class LiveHub {
  readonly #connection: Connection;
  readonly #owner: string;
  readonly #listeners = new Set<Listener>();
  /** Topics being derived, and whether a newer wave came meanwhile */
  readonly #deriving = new Map<string, boolean>();
  readonly #newest = new Map<string, Uint8Array>();
  #status: StreamStatus = { isDatabaseUp: true, feed: null, jobs: [], processes: [] };
  #timer: NodeJS.Timeout | undefined;
  #ticks = 0;
  #isTicking = false;
  #listening: ReturnType<typeof listen> | undefined;

  readonly #most: HubLimits;

  constructor(connection: Connection, o: { owner: string; most: HubLimits }) {
    this.#connection = connection;
    this.#owner = o.owner;
    this.#most = o.most;
  }

  get status(): StreamStatus {
    return this.#status;
  }

  get listeners(): number {
    return this.#listeners.size;
  }

  /**
   * A new browser: it gets the status and the newest pictures of its topics at once, then what changes.
   * @param client who opens it, by its address
   */
  open(
    topics: readonly string[],
    client: string,
  ): { ok: true; stream: ReadableStream<Uint8Array> } | { ok: false; of: 'topics' | 'client' | 'all'; most: number } {
    const { topics: mostTopics, perClient, all } = this.#most;
    if (this.#listeners.size >= all) return { ok: false, of: 'all', most: all };
    const own = [...this.#listeners].filter((listener) => listener.client === client);
    if (own.length >= perClient) return { ok: false, of: 'client', most: perClient };
    if (new Set([...this.#topics(), ...topics]).size > mostTopics) return { ok: false, of: 'topics', most: mostTopics };
    const listener = new Listener({ topics, client }, (gone) => this.#remove(gone));
    this.#listeners.add(listener);
    listener.send('status', eventBytes('status', JSON.stringify(this.#status)));
    for (const topic of topics) {
      const known = this.#newest.get(topic);
      if (known) listener.send(topic, known);
    }
    this.#start();
    void this.#watch();
    for (const topic of topics) this.#derive(topic);
    return { ok: true, stream: listener.stream };
  }

  close(): void {
    clearInterval(this.#timer);
    this.#timer = undefined;
    void this.#listening?.stop();
    this.#listening = undefined;
    for (const listener of this.#listeners) listener.close();
    this.#listeners.clear();
  }

  #remove(listener: Listener): void {
    this.#listeners.delete(listener);
    const shown = this.#topics();
    for (const topic of this.#newest.keys()) if (!shown.has(topic)) this.#newest.delete(topic);
  }

  #start(): void {
    if (this.#timer) return;
    this.#timer = setInterval(() => void this.#tick(), STATUS_MILLISECONDS);
    void this.#tick();
    const deriveAll = () => {
      for (const topic of this.#topics()) this.#derive(topic);
    };
    // Waves that came while the database was away went unheard: listening anew derives as they would have.
    this.#listening = listen(this.#connection.url, 'feed', { onnotice: deriveAll, onlisten: deriveAll });
  }

  #topics(): Set<string> {
    return new Set([...this.#listeners].flatMap((l) => l.topics));
  }

  async #tick(): Promise<void> {
    // While the database is away a look at it may take longer than the time between two.
    if (this.#isTicking) return;
    this.#isTicking = true;
    try {
      if (this.#listeners.size === 0) return;
      this.#ticks++;
      this.#status = await this.#look();
      if (this.#ticks % WATCH_EVERY === 0) await this.#watch();
    } catch {
      this.#status = { ...this.#status, isDatabaseUp: false };
    } finally {
      this.#isTicking = false;
      const bytes = eventBytes('status', JSON.stringify(this.#status));
      for (const listener of this.#listeners) listener.send('status', bytes);
    }
  }

  async #look(): Promise<StreamStatus> {
    const { database } = this.#connection;
    const [row, jobs, processes] = await Promise.race([
      Promise.all([readFeed(database), jobGroups(database, this.#owner), listProcesses(database)]),
      // The driver waits for the database as long as it takes; whoever looks at a page should hear of it before.
      new Promise<never>((_, reject) => setTimeout(() => reject(new Error('no answer')), 3000)),
    ]);
    return { isDatabaseUp: true, feed: row ? feedStatusOf(row) : null, jobs, processes };
  }

  async #watch(): Promise<void> {
    const symbols = new Set([...this.#topics()].flatMap((t) => parseTopic(t)?.symbol ?? []));
    await watch(this.#connection.database, [...symbols]).catch(() => undefined);
  }

  /** Derives a topic's newest picture; of the waves that come meanwhile only the last is derived after it. */
  #derive(topic: string): void {
    if (this.#deriving.has(topic)) {
      this.#deriving.set(topic, true);
      return;
    }
    this.#deriving.set(topic, false);
    void this.#deriveNewest(topic);
  }

  async #deriveNewest(topic: string): Promise<void> {
    try {
      do {
        this.#deriving.set(topic, false);
        const parsed = parseTopic(topic);
        if (!parsed) return;
        const { symbol, ...context } = parsed;
        const result = await loadPicture(this.#connection.database, symbol, { ...context, asOf: LIVE });
        if (!result.ok) return;
        const bytes = eventBytes(
          'picture',
          `{"topic":${JSON.stringify(topic)},"picture":${result.made.text('picture')}}`,
        );
        this.#newest.set(topic, bytes);
        for (const listener of this.#listeners) if (listener.topics.includes(topic)) listener.send(topic, bytes);
      } while (this.#deriving.get(topic));
    } catch {
      // The database was away; the next wave, or its return, derives again.
    } finally {
      this.#deriving.delete(topic);
    }
  }
}
