import { and, eq, inArray, lte, ne, type SQL, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import { dataChanges } from '../database/schema.ts';
import type { StoredUnderlying } from './underlyings.ts';

/** Names what is stored of something at one time, and in which database: another version, another answer. */
export type DataVersion = string;

const named = (sum: SQL) => sql<string>`concat(current_database(), ' ', coalesce(${sum}, 0))`;

/** Version of all that is stored of any market. */
export async function wholeVersion(database: Database | Transaction): Promise<DataVersion> {
  const [{ version }] = await database.select({ version: named(sql`sum(${dataChanges.weight})`) }).from(dataChanges);
  return version;
}

/** Version of which underlyings there are, and under what terms. */
export function underlyingsVersion(database: Database | Transaction): Promise<DataVersion> {
  return versionOf(database, [ALL], {});
}

/** Version of which instants are stored of an underlying. */
export function instantsVersion(database: Database | Transaction, underlyingId: number): Promise<DataVersion> {
  return versionOf(database, [ofUnderlying(underlyingId)], { table: 'slices' });
}

type Subject = Pick<StoredUnderlying, 'id' | 'currency' | 'foreignCurrency'>;

/** Version of all that a picture of an underlying at an instant is made of: what is stored later leaves it as it is. */
export function pictureVersion(
  database: Database | Transaction,
  underlying: Subject,
  instant: Date,
): Promise<DataVersion> {
  return versionOf(database, subjectsOf(underlying), { upTo: instant });
}

/** The three of them at once, as a page asks for them every time. @param upTo without it the picture's of whatever is the latest */
export async function versionsFor(
  database: Database | Transaction,
  underlying: Subject,
  upTo: Date | undefined,
): Promise<{ underlyings: DataVersion; instants: DataVersion; picture: DataVersion }> {
  const { subject, table, fromAt, weight } = dataChanges;
  const sumWhere = (condition: SQL | undefined) => named(sql`sum(${weight}) filter (where ${condition})`);
  const [versions] = await database
    .select({
      underlyings: sumWhere(eq(subject, ALL)),
      instants: sumWhere(and(eq(subject, ofUnderlying(underlying.id)), eq(table, 'slices'))),
      picture: sumWhere(and(ne(subject, ALL), upTo && lte(fromAt, upTo))),
    })
    .from(dataChanges)
    .where(inArray(subject, [ALL, ...subjectsOf(underlying)]));
  return versions;
}

const ALL = 'all';
const ofUnderlying = (id: number) => `underlying ${id}`;

function subjectsOf({ id, currency, foreignCurrency }: Subject): string[] {
  return [
    ofUnderlying(id),
    `currency ${currency}`,
    ...(foreignCurrency === null ? [] : [`currency ${foreignCurrency}`]),
  ];
}

/** How often what is stored was changed: it only grows, and grows with what it counts, in the same transaction. */
async function versionOf(
  database: Database | Transaction,
  subjects: string[],
  o: { table?: string; upTo?: Date },
): Promise<DataVersion> {
  const [{ version }] = await database
    .select({ version: named(sql`sum(${dataChanges.weight})`) })
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
