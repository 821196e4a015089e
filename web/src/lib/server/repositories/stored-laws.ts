import { sql } from 'drizzle-orm';
import { decodeArrays } from '../database/binary-copy.ts';
import type { Database, Transaction } from '../database/connect.ts';
import type { StoredEventMove, StoredStraddle } from '../database/schema.ts';
import { posixZone } from './posix-zone.ts';

/** What is kept of the law of the price at the end of a session. */
export interface StoredLaw {
  instant: Date;
  underlyingPrice: number;
  atmByTenor: Float64Array;
  index30: number | null;
  /** Of ln(price / forward), at each of the fixed days those of each of the fixed probabilities */
  quantiles: Float64Array;
  straddles: StoredStraddle[];
  eventMoves: StoredEventMove[];
}

/** Those at the last stored instant of each session from `from` up to but not including `to`, ascending. */
export async function storedLaws(
  database: Database | Transaction,
  o: { underlyingId: number; zone: string; from: Date; to: Date },
): Promise<StoredLaw[]> {
  const { rows } = await database.execute<
    Omit<StoredLaw, 'instant' | 'atmByTenor' | 'quantiles'> & {
      instant: string;
      tenors: Buffer;
      laws: Buffer;
      [column: string]: unknown;
    }
  >(sql`
    select distinct on (session) instant, array_send(atm_by_tenor) as tenors, array_send(quantiles) as laws,
      underlying_price as "underlyingPrice", index30, straddles, event_moves as "eventMoves"
    from (
      select *, (instant at time zone ${posixZone(o.zone)}::text)::date as session from derived_measures
      where underlying_id = ${o.underlyingId} and instant >= ${o.from.toISOString()} and instant < ${o.to.toISOString()}
    ) m order by session, instant desc`);
  return rows.map(({ instant, tenors, laws, ...rest }) => ({
    ...rest,
    instant: new Date(instant),
    atmByTenor: decodeArrays(tenors, 1)[0],
    quantiles: decodeArrays(laws, 1)[0],
  }));
}
