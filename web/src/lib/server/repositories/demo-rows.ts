import { and, eq, notInArray, type SQL, sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';
import {
  dailyBars,
  derivedMeasures,
  dividends,
  events,
  feed,
  futuresCurves,
  intradayBars,
  listedSpreads,
  liveSlices,
  rateCurves,
  slices,
  splits,
  trades,
  underlyings,
} from '../database/schema.ts';

/** Tables whose rows are the demo's or a user's. */
const SOURCED = [
  slices,
  derivedMeasures,
  dailyBars,
  intradayBars,
  splits,
  rateCurves,
  events,
  dividends,
  futuresCurves,
  listedSpreads,
  trades,
] as const;

/**
 * Takes out what the demo stored, in a transaction of the caller's. Underlyings stay while the demo will list them again or
 * users own something of them; those that it lists no more become the users'.
 * @param listed symbols that stay listed
 */
export async function removeDemoRows(database: Database | Transaction, listed: readonly string[]): Promise<void> {
  for (const table of SOURCED) await database.delete(table).where(eq(table.source, 'demo'));
  await database.delete(liveSlices);
  // A market that ran on from another past does not belong to this one.
  await database.delete(feed);
  const gone = and(eq(underlyings.source, 'demo'), notInArray(underlyings.symbol, [...listed]));
  // By ids, since an update names its columns without their table.
  const own = [slices, dailyBars, intradayBars, splits, events, dividends, futuresCurves].map(
    (table) => sql`select ${table.underlyingId} from ${table}`,
  );
  await database
    .update(underlyings)
    .set({ source: 'import' })
    .where(and(gone, sql`${underlyings.id} in (${sql.join(own, sql` union `)})`));
  await database.delete(underlyings).where(gone);
}

/** Keys of the rows that the demo makes; whatever else is stored of its underlyings and currencies is the users'. */
export interface DemoKeys {
  symbol: string;
  instants: Date[];
  sessions: string[];
  exDates: string[];
  /** instant, kind and label, joined by `eventKey` */
  events: string[];
}

/** An event's key as one text. */
export function eventKey(o: { instant: Date; kind: string; label: string }): string {
  return JSON.stringify([Math.round(o.instant.getTime() / 1000), o.kind, o.label]);
}

/** Whether a column is none of many keys, which go as one parameter. */
function notAmong(column: SQL, keys: readonly string[], type: 'timestamptz' | 'date'): SQL {
  // Instants and dates need no quoting in an array's text.
  return sql`${column} <> all(${`{${keys.join(',')}}`}::${sql.raw(type)}[])`;
}

/** Gives users the rows of a demo's underlying that the demo does not make, from the time when rows had no source. */
export async function claimRows(database: Database | Transaction, id: number, keys: DemoKeys): Promise<void> {
  const instants = keys.instants.map((at) => at.toISOString());
  for (const table of [slices, derivedMeasures, futuresCurves, listedSpreads] as const) {
    await database
      .update(table)
      .set({ source: 'user' })
      .where(and(eq(table.underlyingId, id), notAmong(sql`${table.instant}`, instants, 'timestamptz')));
  }
  await database
    .update(dailyBars)
    .set({ source: 'user' })
    .where(and(eq(dailyBars.underlyingId, id), notAmong(sql`${dailyBars.session}`, keys.sessions, 'date')));
  await database
    .update(dividends)
    .set({ source: 'user' })
    .where(and(eq(dividends.underlyingId, id), notAmong(sql`${dividends.exDate}`, keys.exDates, 'date')));
  const made = new Set(keys.events);
  const stored = await database.select().from(events).where(eq(events.underlyingId, id));
  for (const event of stored) {
    if (!made.has(eventKey(event)))
      await database.update(events).set({ source: 'user' }).where(eq(events.id, event.id));
  }
}

/** Tells demo's rate curves from users': those of other currencies, and of sessions that the demo does not have. */
export async function claimCurves(
  database: Database | Transaction,
  o: { currencies: readonly string[]; sessions: readonly string[] },
): Promise<void> {
  await database
    .update(rateCurves)
    .set({ source: 'user' })
    .where(
      sql`${notInArray(rateCurves.currency, [...o.currencies])} or ${notAmong(sql`${rateCurves.session}`, o.sessions, 'date')}`,
    );
}
