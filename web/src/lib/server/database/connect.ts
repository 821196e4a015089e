import { connect as openSocket } from 'node:net';
import { drizzle } from 'drizzle-orm/postgres-js';
import postgres from 'postgres';
import * as schema from './schema.ts';

/** Opens a pool of connections to a PostgreSQL database; close it with `close`. */
export function connect(url: string, o: { connections?: number } = {}) {
  // A database that was away is asked for again every half second, not ever more seldom.
  const backoff = () => 0.5;
  const options = { max: o.connections ?? 8, onnotice: () => undefined, backoff, socket: promptSocket };
  const sql = postgres(url, options);
  return { database: drizzle(sql, { schema, casing: 'snake_case' }), sql, close: () => sql.end({ timeout: 5 }) };
}

/**
 * A socket that sends at once. The driver's own holds a second small packet back until the first is acknowledged, which
 * the other side puts off for 40 ms: every COPY and every long parameter list waited for that.
 */
function promptSocket({ host, port, path }: { host: string[]; port: number[]; path?: string | false }) {
  return path ? openSocket({ path }) : openSocket({ host: host[0], port: port[0], noDelay: true });
}

/**
 * The query builder over a transaction begun on the driver itself, so that COPY and repositories share it. The builder
 * reads the parsers from `options`, which a transaction of the driver lacks and its parent has.
 */
export function onTransaction(sql: postgres.TransactionSql, parent: postgres.Sql): Database {
  const client = Object.assign(sql, { options: parent.options }) as unknown as postgres.Sql;
  return drizzle(client, { schema, casing: 'snake_case' });
}

export type Connection = ReturnType<typeof connect>;
export type Database = Connection['database'];
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];
