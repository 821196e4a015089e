import { sql } from 'drizzle-orm';
import { decodeArrays } from '../database/binary-copy.ts';
import type { Database, Transaction } from '../database/connect.ts';
import type { StoredSmile } from '../database/schema.ts';
import { posixZone } from './posix-zone.ts';

/** What Level looks at of the end of a session. */
export interface StoredLevel {
  instant: Date;
  underlyingPrice: number;
  atmByTenor: Float64Array;
  index30: number | null;
  exEvent30: number | null;
  optionVolume: number;
  openInterest: number;
  smiles?: StoredSmile[];
}

/**
 * Levels at the last stored instant of each session from `from` up to but not including `to`, ascending.
 * @param o.withSmiles fitted smiles too, which take ten times as long to read
 */
export async function storedLevels(
  database: Database | Transaction,
  o: { underlyingId: number; zone: string; from: Date; to: Date; withSmiles: boolean },
): Promise<StoredLevel[]> {
  const { rows } = await database.execute<
    Omit<StoredLevel, 'instant' | 'atmByTenor'> & { instant: string; tenors: Buffer; [column: string]: unknown }
  >(sql`
    select distinct on (session) instant, array_send(atm_by_tenor) as tenors, underlying_price as "underlyingPrice", index30,
      ex_event30 as "exEvent30", option_volume as "optionVolume", open_interest as "openInterest"
      ${o.withSmiles ? sql`, smiles` : sql``}
    from (
      select *, (instant at time zone ${posixZone(o.zone)}::text)::date as session from derived_measures
      where underlying_id = ${o.underlyingId} and instant >= ${o.from.toISOString()} and instant < ${o.to.toISOString()}
    ) m order by session, instant desc`);
  return rows.map(({ instant, tenors, ...rest }) => ({
    ...rest,
    instant: new Date(instant),
    atmByTenor: decodeArrays(tenors, 1)[0],
  }));
}
