import { drizzle } from 'drizzle-orm/postgres-js';
import postgres from 'postgres';
import * as schema from './schema.ts';

/** Opens a pool of connections to a PostgreSQL database; close it with `close`. */
export function connect(url: string, o: { connections?: number } = {}) {
  const sql = postgres(url, { max: o.connections ?? 8, onnotice: () => undefined });
  return { database: drizzle(sql, { schema, casing: 'snake_case' }), sql, close: () => sql.end({ timeout: 5 }) };
}

export type Connection = ReturnType<typeof connect>;
export type Database = Connection['database'];
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];
