import { drizzle } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { PreparedClient } from './prepared-client.ts';
import * as schema from './schema.ts';
import { type Sql, sqlOn } from './sql.ts';

const { builtins } = pg.types;
/** What comes as the text that the database writes: dates and instants, alone and in arrays. */
const AS_TEXT = new Set<number>([
  ...[builtins.TIMESTAMPTZ, builtins.TIMESTAMP, builtins.DATE, builtins.INTERVAL],
  ...[1185, 1115, 1182, 1187],
]);
const types = {
  getTypeParser: ((oid: number, format?: 'text' | 'binary') =>
    AS_TEXT.has(oid) ? (text: string) => text : pg.types.getTypeParser(oid, format)) as typeof pg.types.getTypeParser,
};

/** What is under way has this long to end when a pool closes, milliseconds. */
const CLOSE_WITHIN = 5000;

const build = (client: pg.Pool | pg.ClientBase) => drizzle(client as pg.Pool, { schema, casing: 'snake_case' });

/** One connection for several statements: what is temporary stays, and nothing else comes in between. */
export interface Session {
  sql: Sql;
  database: Database;
  client: pg.ClientBase;
  /** Does work in one transaction, which is undone where it fails. */
  transaction: <T>(work: () => Promise<T>) => Promise<T>;
}

/**
 * Opens a pool of connections to a PostgreSQL database; close it with `close`. A connection that is lost is lost for who held it:
 * what is asked of it afterwards fails, and never goes on outside of its transaction on another one.
 * @param o.connections at most
 * @param o.seconds after which a statement is given up; none for what may take long
 */
export function connect(url: string, o: { connections?: number; seconds?: number } = {}) {
  const pool = new pg.Pool({
    connectionString: url,
    max: o.connections ?? 8,
    // The pool makes clients with its own settings.
    Client: PreparedClient as unknown as new () => pg.ClientBase,
    types,
    keepAlive: true,
    query_timeout: o.seconds === undefined ? undefined : 1000 * o.seconds,
    // One that has nothing to do is not closed: the next page would wait for it.
    idleTimeoutMillis: 0,
  });
  const open = new Set<pg.PoolClient>();
  // Who waits for its answer is told; without ears of its own the loss of one would end the process.
  pool.on('connect', (client) => {
    open.add(client);
    client.on('error', () => undefined);
  });
  pool.on('remove', (client) => open.delete(client));
  pool.on('error', () => undefined);

  /**
   * Does work on a connection of its own; one that failed is closed, with whatever it had begun.
   * @param signal cuts the connection
   */
  async function session<T>(work: (session: Session) => Promise<T>, signal?: AbortSignal): Promise<T> {
    const client = await pool.connect();
    let failure: Error | undefined;
    // What is under way there would hold the connection for as long as it likes.
    const cut = () => void client.end();
    signal?.addEventListener('abort', cut, { once: true });
    try {
      signal?.throwIfAborted();
      return await work(sessionOn(client));
    } catch (error) {
      failure = error instanceof Error ? error : new Error(String(error));
      throw error;
    } finally {
      signal?.removeEventListener('abort', cut);
      client.release(failure);
    }
  }

  return {
    url,
    database: build(pool),
    sql: sqlOn(pool),
    session,
    /** Does work in one transaction, which is undone where it fails. */
    transaction: <T>(work: (session: Session) => Promise<T>, signal?: AbortSignal): Promise<T> =>
      session((own) => own.transaction(() => work(own)), signal),
    /** Connections: open ones, those of them that have nothing to do, and who waits for one. */
    counts: () => ({ open: pool.totalCount, idle: pool.idleCount, waiting: pool.waitingCount }),
    async close() {
      const cut = setTimeout(() => open.forEach((client) => void client.end()), CLOSE_WITHIN);
      await pool.end().finally(() => clearTimeout(cut));
    },
  };
}

function sessionOn(client: pg.ClientBase): Session {
  const sql = sqlOn(client);
  return {
    sql,
    database: build(client),
    client,
    async transaction(work) {
      await sql`begin`;
      try {
        const result = await work();
        await sql`commit`;
        return result;
      } catch (error) {
        // Of a lost connection the database undoes it by itself.
        await sql`rollback`.catch(() => undefined);
        throw error;
      }
    },
  };
}

export type Connection = ReturnType<typeof connect>;
export type Database = ReturnType<typeof build>;
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];
