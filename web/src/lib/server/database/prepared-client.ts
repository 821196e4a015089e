import { createHash } from 'node:crypto';
import pg from 'pg';

/** Where a page waits, a database that does not take a connection within this time is away, milliseconds. */
const CONNECT_WITHIN = 10_000;
/** Whoever computes for long sees late that a connection was taken long ago; he has this time, milliseconds. */
const CONNECT_BESIDE_WORK_WITHIN = 120_000;
/** Statements that a connection keeps prepared; what is asked beyond them is planned each time. */
const MOST_STATEMENTS = 500;
/** Longer ones, such as rows to insert, differ each time: keeping them would cost more than it gains. */
const LONGEST = 8000;
const names = new Map<string, string>();

/** Name of a statement, the same for the same text. */
function nameOf(text: string): string | undefined {
  if (text.length > LONGEST) return undefined;
  const known = names.get(text);
  if (known !== undefined || names.size >= MOST_STATEMENTS) return known;
  const name = createHash('sha256').update(text).digest('base64url').slice(0, 32);
  names.set(text, name);
  return name;
}

/**
 * A connection that keeps what it is asked with values prepared, so that the database reads and plans it once: planning over the
 * months' tables of slices takes as long as reading them.
 */
export class PreparedClient extends pg.Client {
  constructor(config: pg.ClientConfig) {
    // Said here, not to the pool: who waits for a turn there may wait for longer.
    const isPage = config.query_timeout !== undefined;
    super({ ...config, connectionTimeoutMillis: isPage ? CONNECT_WITHIN : CONNECT_BESIDE_WORK_WITHIN });
  }

  #last: Promise<unknown> = Promise.resolve();

  /** What is asked while something else is under way waits for it: a transaction may ask for several things at once. */
  override query(config: unknown, values?: unknown, done?: unknown): never {
    const ask = () => super.query(prepared(config, values) as never, values as never, done as never) as unknown;
    if (done !== undefined || typeof values === 'function' || hasCourse(config)) return ask() as never;
    const asked = this.#last.then(ask);
    this.#last = asked.catch((error: unknown) => {
      // What is given up goes on there: nobody is to wait behind it.
      if (error instanceof Error && error.message === 'Query read timeout') void this.end();
    });
    return asked as never;
  }
}

/** A statement with a course of its own, such as a COPY. */
const hasCourse = (config: unknown) => typeof config === 'object' && config !== null && 'submit' in config;

function prepared(config: unknown, values: unknown): unknown {
  const asked = typeof config === 'string' ? { text: config } : config;
  if (!Array.isArray(values) || values.length === 0 || !isPlain(asked)) return config;
  return { ...asked, name: asked.name ?? nameOf(asked.text) };
}

/** A statement by its text. */
function isPlain(config: unknown): config is { text: string; name?: string } {
  return typeof config === 'object' && config !== null && !hasCourse(config) && 'text' in config;
}
