import { and, asc, eq, gte, lte, max, min, type SQL, sql } from 'drizzle-orm';
import type { ClientBase } from 'pg';
import { copyRows, decodeArrays } from '../database/binary-copy.ts';
import type { Database, Session, Transaction } from '../database/connect.ts';
import { liveSlices, type RowSource, slices } from '../database/schema.ts';
import { posixZone } from './posix-zone.ts';

/** Array columns of a slice, in the order of the table. */
export const SLICE_COLUMNS = [
  'strikes',
  'callBid',
  'callAsk',
  'callBidSize',
  'callAskSize',
  'callLast',
  'callVolume',
  'callOpenInterest',
  'putBid',
  'putAsk',
  'putBidSize',
  'putAskSize',
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
  /** Its prices are made of volatilities */
  isQuotedInVolatility?: boolean;
  /** Its underlying's price is implied by parity */
  isPriceImplied?: boolean;
}

const snake = (name: string) => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
/** All array columns in binary as one value: parsing thousands of decimals would take most of a page's time. */
const COLUMNS = sql.raw(SLICE_COLUMNS.map((name) => `array_send(${snake(name)})`).join(' || '));

/** All expiries of an underlying at one stored instant, nearest first. */
export function slicesAt(
  database: Database | Transaction,
  underlyingId: number,
  instant: Date,
): Promise<StoredSlice[]> {
  return readSlices(
    database,
    underlyingId,
    sql`slices where underlying_id = ${underlyingId} and instant = ${instant.toISOString()}`,
    sql`quoted_in = 'volatility' as made, price_source = 'parity' as implied`,
  );
}

/** The feed's newest quotes of an underlying, nearest expiry first; empty when it quotes none. */
export function liveSlicesOf(database: Database | Transaction, underlyingId: number): Promise<StoredSlice[]> {
  return readSlices(
    database,
    underlyingId,
    sql`live_slices where underlying_id = ${underlyingId}`,
    sql`false as made, false as implied`,
  );
}

/** Instant of the feed's newest quotes of an underlying. */
export async function liveInstant(database: Database | Transaction, underlyingId: number): Promise<Date | undefined> {
  const [row] = await database
    .select({ instant: max(liveSlices.instant) })
    .from(liveSlices)
    .where(eq(liveSlices.underlyingId, underlyingId));
  return row.instant ?? undefined;
}

async function readSlices(
  database: Database | Transaction,
  underlyingId: number,
  from: SQL,
  marks: SQL,
): Promise<StoredSlice[]> {
  const { rows } = await database.execute<{
    instant: string;
    expiry: string;
    price: number;
    columns: Buffer;
    made: boolean;
    implied: boolean;
  }>(sql`
    select instant, expiry, underlying_price as price, ${marks}, ${COLUMNS} as columns from ${from} order by expiry`);
  return rows.map((row) => {
    const columns = decodeArrays(row.columns, SLICE_COLUMNS.length);
    return {
      underlyingId,
      instant: new Date(row.instant),
      expiry: new Date(row.expiry),
      underlyingPrice: row.price,
      isQuotedInVolatility: row.made,
      isPriceImplied: row.implied,
      ...(Object.fromEntries(SLICE_COLUMNS.map((name, i) => [name, columns[i]])) as SliceColumns),
    };
  });
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
export async function ensurePartitions(sqlClient: Session['sql'], instants: Iterable<Date>): Promise<void> {
  const months = new Map([...instants].map((at) => [at.toISOString().slice(0, 7), at]));
  for (const at of months.values()) await sqlClient`select ensure_slices_partition(${at.toISOString()}::timestamptz)`;
}

/** Replaces the feed's newest quotes of an underlying. */
export async function replaceLiveSlices(
  { sql: sqlClient, client }: Pick<Session, 'sql' | 'client'>,
  underlyingId: number,
  rows: StoredSlice[],
): Promise<void> {
  await sqlClient`delete from live_slices where underlying_id = ${underlyingId}`;
  await copyInto(client, rows, 'live_slices');
}

/** Loads slices of one source by COPY; their partitions must be there, and none of the same key. */
export function copySlices(client: ClientBase, rows: Iterable<StoredSlice>, source: RowSource): Promise<void> {
  return copyInto(client, rows, 'slices', source);
}

async function copyInto(
  client: ClientBase,
  rows: Iterable<StoredSlice>,
  table: 'slices' | 'live_slices',
  source?: RowSource,
): Promise<void> {
  function* encoded() {
    for (const row of rows) {
      yield [
        { type: 'int4', value: row.underlyingId } as const,
        { type: 'timestamptz', value: row.instant } as const,
        { type: 'timestamptz', value: row.expiry } as const,
        { type: 'float8', value: row.underlyingPrice } as const,
        ...SLICE_COLUMNS.map((name) => ({ type: 'float8[]', value: row[name] }) as const),
        ...(source ? [{ type: 'text', value: source } as const] : []),
      ];
    }
  }
  const columns = ['underlying_id', 'instant', 'expiry', 'underlying_price', ...SLICE_COLUMNS.map(snake)];
  if (source) columns.push('source');
  await copyRows(client, `${table} (${columns.join(', ')})`, encoded());
}

/** Takes out the demo's slices of an underlying between two instants, both included. */
export async function deleteDemoSlices(database: Database | Transaction, underlyingId: number, from: Date, to: Date) {
  await database
    .delete(slices)
    .where(
      and(
        eq(slices.underlyingId, underlyingId),
        eq(slices.source, 'demo'),
        gte(slices.instant, from),
        lte(slices.instant, to),
      ),
    );
}

/** Instants and expiries of the slices that users own between two instants, both included. */
export function userSlices(
  database: Database | Transaction,
  underlyingId: number,
  from: Date,
  to: Date,
): Promise<{ instant: Date; expiry: Date }[]> {
  return database
    .select({ instant: slices.instant, expiry: slices.expiry })
    .from(slices)
    .where(
      and(
        eq(slices.underlyingId, underlyingId),
        eq(slices.source, 'user'),
        gte(slices.instant, from),
        lte(slices.instant, to),
      ),
    );
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

/** First and last stored instant of an underlying. */
export async function instantsBounds(
  database: Database | Transaction,
  underlyingId: number,
): Promise<[Date, Date] | undefined> {
  const [row] = await database
    .select({ first: min(slices.instant), last: max(slices.instant) })
    .from(slices)
    .where(eq(slices.underlyingId, underlyingId));
  return row.first && row.last ? [row.first, row.last] : undefined;
}

interface Close {
  zone: string;
  sessionClose: string;
}

/** Moves expiries of users' slices that lie on one session's close to another's on the same civil date. */
export async function moveExpiries(
  database: Database | Transaction,
  underlyingId: number,
  { from, to }: { from: Close; to: Close },
): Promise<void> {
  if (from.zone === to.zone && from.sessionClose === to.sessionClose) return;
  const [old, next] = [posixZone(from.zone), posixZone(to.zone)];
  const moved = sql`(((expiry at time zone ${old}::text)::date + ${to.sessionClose}::time) at time zone ${next}::text)`;
  await database.execute(sql`
    update slices set expiry = ${moved}
    where underlying_id = ${underlyingId} and source = 'user' and ${moved} > instant
      and (expiry at time zone ${old}::text)::time = ${from.sessionClose}::time`);
}

/** Takes out users' slices of an underlying at some instants, and what was derived of them. @returns how many slices */
export async function deleteUserInstants(
  database: Database | Transaction,
  underlyingId: number,
  instants: readonly Date[],
): Promise<number> {
  const at = sql`${`{${instants.map((i) => i.toISOString()).join(',')}}`}::timestamptz[]`;
  const { rows: gone } = await database.execute(
    sql`delete from slices where underlying_id = ${underlyingId} and source = 'user' and instant = any(${at}) returning 1`,
  );
  await database.execute(sql`
    delete from derived_measures m where m.underlying_id = ${underlyingId} and m.instant = any(${at})
      and not exists (select from slices s where s.underlying_id = m.underlying_id and s.instant = m.instant)`);
  return gone.length;
}
