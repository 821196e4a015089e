import { sql } from 'drizzle-orm';
import { decodeArrays } from '../database/binary-copy.ts';
import type { Database, Transaction } from '../database/connect.ts';

/** Open contracts of one expiry at one stored instant, by strike; NaN where none were told. */
export interface OpenInterestSlice {
  instant: Date;
  expiry: Date;
  strikes: Float64Array;
  call: Float64Array;
  put: Float64Array;
}

/** Those of some expiries, each at an instant of its own; what is not stored is left out. */
export async function openInterestOf(
  database: Database | Transaction,
  underlyingId: number,
  wanted: readonly { instant: Date; expiry: Date }[],
): Promise<OpenInterestSlice[]> {
  if (wanted.length === 0) return [];
  const pairs = sql.join(
    wanted.map((w) => sql`(${w.instant.toISOString()}::timestamptz, ${w.expiry.toISOString()}::timestamptz)`),
    sql`, `,
  );
  const { rows } = await database.execute<{
    instant: string;
    expiry: string;
    columns: Buffer;
    [column: string]: unknown;
  }>(
    sql`select instant, expiry,
        array_send(strikes) || array_send(call_open_interest) || array_send(put_open_interest) as columns
      from slices where underlying_id = ${underlyingId} and (instant, expiry) in (${pairs})`,
  );
  return rows.map((row) => {
    const [strikes, call, put] = decodeArrays(row.columns, 3);
    return { instant: new Date(row.instant), expiry: new Date(row.expiry), strikes, call, put };
  });
}
