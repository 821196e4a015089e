import type { Database, Transaction } from '../database/connect.ts';
import { dailyBars } from '../database/schema.ts';

export async function insertBars(
  database: Database | Transaction,
  rows: (typeof dailyBars.$inferInsert)[],
): Promise<void> {
  await database.insert(dailyBars).values(rows);
}
