import { type AnyColumn, type SQL, sql } from 'drizzle-orm';

/** Of an upsert: the demo may replace only its own rows, a user any. @param stored the table's own column */
export function mayReplace(stored: AnyColumn): SQL {
  return sql`excluded.source = 'user' or ${stored} = 'demo'`;
}
