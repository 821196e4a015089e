import { and, asc, desc, eq, gt, gte, lt, lte, max, min, sql } from 'drizzle-orm';
import type postgres from 'postgres';
import { copyRows, decodeArrays } from '../database/binary-copy.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { slices } from '../database/schema.ts';

/** Array columns of a slice, in the order of the table. */
export const SLICE_COLUMNS = [
  'strikes',
  'callBid',
  'callAsk',
  'callLast',
  'callVolume',
  'callOpenInterest',
  'putBid',
  'putAsk',
  'putLast',
  'putVolume',
  'putOpenInterest',
] as const;
export type SliceColumns = Record<(typeof SLICE_COLUMNS)[number], Float64Array>;

/** All quotes of one underlying, instant and expiry. */
export interface StoredSlice extends SliceColumns {
  underlyingId: number;
  instant: Date;
  expiry: Date;
  underlyingPrice: number;
}

const snake = (name: string) => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
/** All array columns in binary as one value: parsing thousands of decimals would take most of a page's time. */
const COLUMNS = sql.raw(SLICE_COLUMNS.map((name) => `array_send(${snake(name)})`).join(' || '));

/** All expiries of an underlying at one stored instant, nearest first. */
export async function slicesAt(
  database: Database | Transaction,
  underlyingId: number,
  instant: Date,
): Promise<StoredSlice[]> {
  const rows = await database.execute<{ expiry: string; price: number; columns: Buffer }>(sql`
    select expiry, underlying_price as price, ${COLUMNS} as columns from slices
    where underlying_id = ${underlyingId} and instant = ${instant.toISOString()} order by expiry`);
  return rows.map((row) => {
    const columns = decodeArrays(row.columns, SLICE_COLUMNS.length);
    return {
      underlyingId,
      instant,
      expiry: new Date(row.expiry),
      underlyingPrice: row.price,
      ...(Object.fromEntries(SLICE_COLUMNS.map((name, i) => [name, columns[i]])) as SliceColumns),
    };
  });
}

/** The stored instant at or before the given one (the latest without one), and its neighbours. */
export async function instantsAround(database: Database | Transaction, underlyingId: number, at: Date | undefined) {
  const own = eq(slices.underlyingId, underlyingId);
  const one = async (condition: ReturnType<typeof and>, order: 'asc' | 'desc') => {
    const [row] = await database
      .select({ instant: slices.instant })
      .from(slices)
      .where(condition)
      .orderBy(order === 'asc' ? asc(slices.instant) : desc(slices.instant))
      .limit(1);
    return row?.instant;
  };
  const [[ends], atOrBefore] = await Promise.all([
    database
      .select({ first: min(slices.instant), latest: max(slices.instant) })
      .from(slices)
      .where(own),
    at && one(and(own, lte(slices.instant, at)), 'desc'),
  ]);
  if (!ends.first || !ends.latest) return undefined;
  const { first, latest } = ends;
  const instant = at === undefined ? latest : (atOrBefore ?? first);
  const [previous, next] = await Promise.all([
    one(and(own, lt(slices.instant, instant)), 'desc'),
    one(and(own, gt(slices.instant, instant)), 'asc'),
  ]);
  return { instant, previous, next, first, latest };
}

/** Price of the underlying at a stored instant. */
export async function priceAt(database: Database | Transaction, underlyingId: number, instant: Date) {
  const [row] = await database
    .select({ price: slices.underlyingPrice })
    .from(slices)
    .where(and(eq(slices.underlyingId, underlyingId), eq(slices.instant, instant)))
    .orderBy(asc(slices.expiry))
    .limit(1);
  return row?.price;
}

/** Makes the partitions that slices of these instants go to. */
export async function ensurePartitions(
  sqlClient: postgres.Sql | postgres.TransactionSql,
  instants: Iterable<Date>,
): Promise<void> {
  const months = new Map([...instants].map((at) => [at.toISOString().slice(0, 7), at]));
  for (const at of months.values()) await sqlClient`select ensure_slices_partition(${at.toISOString()}::timestamptz)`;
}

/** Loads slices by COPY; their partitions must be there. */
export async function copySlices(sqlClient: postgres.TransactionSql, rows: Iterable<StoredSlice>): Promise<void> {
  function* encoded() {
    for (const row of rows) {
      yield [
        { type: 'int4', value: row.underlyingId } as const,
        { type: 'timestamptz', value: row.instant } as const,
        { type: 'timestamptz', value: row.expiry } as const,
        { type: 'float8', value: row.underlyingPrice } as const,
        ...SLICE_COLUMNS.map((name) => ({ type: 'float8[]', value: row[name] }) as const),
      ];
    }
  }
  const columns = ['underlying_id', 'instant', 'expiry', 'underlying_price', ...SLICE_COLUMNS.map(snake)];
  await copyRows(sqlClient, `slices (${columns.join(', ')})`, encoded());
}

/** Takes out an underlying's slices between two instants, both included. */
export async function deleteSlices(database: Database | Transaction, underlyingId: number, from: Date, to: Date) {
  await database
    .delete(slices)
    .where(and(eq(slices.underlyingId, underlyingId), gte(slices.instant, from), lte(slices.instant, to)));
}

/** Distinct stored instants of an underlying, ascending, within bounds when given. */
export async function storedInstants(
  database: Database | Transaction,
  underlyingId: number,
  o: { from?: Date; to?: Date } = {},
): Promise<Date[]> {
  const rows = await database
    .selectDistinct({ instant: slices.instant })
    .from(slices)
    .where(
      and(
        eq(slices.underlyingId, underlyingId),
        o.from && gte(slices.instant, o.from),
        o.to && lte(slices.instant, o.to),
      ),
    )
    .orderBy(asc(slices.instant));
  return rows.map((r) => r.instant);
}
