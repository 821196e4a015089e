import { and, eq, inArray, lte, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { dataChanges } from '../database/schema.ts';
import type { StoredUnderlying } from './underlyings.ts';

/** Names what is stored of something at one time: another version, another answer. */
export type DataVersion = string;

/** Version of which underlyings there are, and under what terms. */
export function underlyingsVersion(database: Database | Transaction): Promise<DataVersion> {
  return versionOf(database, ['all'], {});
}

/** Version of which instants are stored of an underlying. */
export function instantsVersion(database: Database | Transaction, underlyingId: number): Promise<DataVersion> {
  return versionOf(database, [`underlying ${underlyingId}`], { table: 'slices' });
}

/** Version of all that a picture of an underlying at an instant is made of: what is stored later leaves it as it is. */
export function pictureVersion(
  database: Database | Transaction,
  { id, currency, foreignCurrency }: Pick<StoredUnderlying, 'id' | 'currency' | 'foreignCurrency'>,
  instant: Date,
): Promise<DataVersion> {
  const currencies = foreignCurrency === null ? [currency] : [currency, foreignCurrency];
  return versionOf(database, [`underlying ${id}`, ...currencies.map((c) => `currency ${c}`)], { upTo: instant });
}

/** How often what is stored was changed: it only grows, and grows with what it counts, in the same transaction. */
async function versionOf(
  database: Database | Transaction,
  subjects: string[],
  o: { table?: string; upTo?: Date },
): Promise<DataVersion> {
  const [{ version }] = await database
    .select({ version: sql<string>`coalesce(sum(${dataChanges.weight}), 0)::text` })
    .from(dataChanges)
    .where(
      and(
        inArray(dataChanges.subject, subjects),
        o.table === undefined ? undefined : eq(dataChanges.table, o.table),
        o.upTo && lte(dataChanges.fromAt, o.upTo),
      ),
    );
  return version;
}

/** Puts together what many changes noted. */
export async function compactDataChanges(database: Database): Promise<void> {
  await database.execute(sql`select compact_data_changes()`);
}
