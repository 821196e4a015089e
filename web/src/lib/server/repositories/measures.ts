import { eq, sql } from 'drizzle-orm';
import { decodeArrays } from '../database/binary-copy.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { derivedMeasures, type StoredSmile } from '../database/schema.ts';
import { posixZone } from './posix-zone.ts';

export type StoredMeasures = typeof derivedMeasures.$inferSelect;

/** At-the-money volatilities by tenor, and the skew at 30 days, at the last stored instant of a session. */
export interface SessionMeasures {
  instant: Date;
  atmByTenor: Float64Array;
  /** Model-free at 30 days */
  index30: number | null;
  riskReversal25: number | null;
  butterfly25: number | null;
}

/** The last measures of each session of an underlying from `from` up to but not including `to`, ascending. */
export async function sessionMeasures(
  database: Database | Transaction,
  o: { underlyingId: number; zone: string; from: Date; to: Date },
): Promise<SessionMeasures[]> {
  // In binary: a year of decimals takes longer to parse than to read.
  const { rows } = await database.execute<
    Omit<SessionMeasures, 'instant' | 'atmByTenor'> & { instant: string; tenors: Buffer; [column: string]: unknown }
  >(sql`
    select distinct on (session) instant, array_send(atm_by_tenor) as tenors, index30,
      risk_reversal25 as "riskReversal25", butterfly25
    from (
      select instant, atm_by_tenor, index30, risk_reversal25, butterfly25, (instant at time zone ${posixZone(o.zone)}::text)::date as session
      from derived_measures
      where underlying_id = ${o.underlyingId} and instant >= ${o.from.toISOString()} and instant < ${o.to.toISOString()}
    ) m order by session, instant desc`);
  return rows.map(({ instant, tenors, index30, riskReversal25, butterfly25 }) => ({
    instant: new Date(instant),
    atmByTenor: decodeArrays(tenors, 1)[0],
    index30,
    riskReversal25,
    butterfly25,
  }));
}

export type SessionFigures = Pick<
  StoredMeasures,
  | 'instant'
  | 'underlyingPrice'
  | 'index30'
  | 'exEvent30'
  | 'riskReversal25'
  | 'butterfly25'
  | 'impliedFinancing'
  | 'impliedBorrow'
> & { atmByTenor: Float64Array };

/** Figures at the last stored instant of each session from `from` up to and including `to`, ascending. */
export async function sessionFigures(
  database: Database | Transaction,
  o: { underlyingId: number; zone: string; from: Date; to: Date },
): Promise<SessionFigures[]> {
  const { rows } = await database.execute<
    Omit<SessionFigures, 'instant' | 'atmByTenor'> & { instant: string; tenors: Buffer; [column: string]: unknown }
  >(sql`
    select distinct on (session) instant, array_send(atm_by_tenor) as tenors, underlying_price as "underlyingPrice", index30,
      ex_event30 as "exEvent30", risk_reversal25 as "riskReversal25", butterfly25, implied_financing as "impliedFinancing",
      implied_borrow as "impliedBorrow"
    from (
      select *, (instant at time zone ${posixZone(o.zone)}::text)::date as session from derived_measures
      where underlying_id = ${o.underlyingId} and instant >= ${o.from.toISOString()} and instant <= ${o.to.toISOString()}
    ) m order by session, instant desc`);
  return rows.map(({ instant, tenors, ...figures }) => ({
    ...figures,
    instant: new Date(instant),
    atmByTenor: decodeArrays(tenors, 1)[0],
  }));
}

export interface SessionSmiles {
  instant: Date;
  underlyingPrice: number;
  /** At the money at the tenor */
  atm: number | null;
  riskReversal25: number | null;
  butterfly25: number | null;
  smiles: StoredSmile[];
}

/**
 * Price, skew and fitted smiles at the last stored instant of each session from `from` up to and including `to`, ascending.
 * @param o.tenor place in the list, from 0
 */
export async function sessionSmiles(
  database: Database | Transaction,
  o: { underlyingId: number; zone: string; tenor: number; from: Date; to: Date },
): Promise<SessionSmiles[]> {
  const { rows } = await database.execute<
    Omit<SessionSmiles, 'instant'> & { instant: string; [column: string]: unknown }
  >(sql`
    select distinct on (session) instant, underlying_price as "underlyingPrice",
      nullif(atm_by_tenor[${o.tenor + 1}::int], 'NaN') as atm,
      risk_reversal25 as "riskReversal25", butterfly25, smiles
    from (
      select *, (instant at time zone ${posixZone(o.zone)}::text)::date as session from derived_measures
      where underlying_id = ${o.underlyingId} and instant >= ${o.from.toISOString()} and instant <= ${o.to.toISOString()}
    ) m order by session, instant desc`);
  return rows.map((row) => ({ ...row, instant: new Date(row.instant) }));
}

/** One tenor's at-the-money volatility at every stored instant between two, ascending. @param tenor place in the list, from 0 */
export async function tenorMeasures(
  database: Database | Transaction,
  o: { underlyingId: number; tenor: number; from: Date; to: Date },
): Promise<{ instant: string; volatility: number }[]> {
  const { rows } = await database.execute<{ instant: string; volatility: number }>(sql`
    select instant, atm_by_tenor[${o.tenor + 1}::int] as volatility from derived_measures
    where underlying_id = ${o.underlyingId} and instant >= ${o.from.toISOString()} and instant < ${o.to.toISOString()}
    order by instant`);
  return [...rows];
}

/** Rows of one statement: it holds no more than 65,535 parameters. */
const MOST_ROWS = 1000;

/** Stores measures; those that stand of the same underlying and instant stay. */
export async function insertMeasures(database: Database | Transaction, rows: StoredMeasures[]): Promise<void> {
  for (let i = 0; i < rows.length; i += MOST_ROWS)
    await database
      .insert(derivedMeasures)
      .values(rows.slice(i, i + MOST_ROWS))
      .onConflictDoNothing();
}

/** Stores measures, replacing those of the same underlying and instant. */
export async function upsertMeasures(database: Database | Transaction, rows: StoredMeasures[]): Promise<void> {
  if (rows.length === 0) return;
  await database
    .insert(derivedMeasures)
    .values(rows)
    .onConflictDoUpdate({
      target: [derivedMeasures.underlyingId, derivedMeasures.instant],
      set: {
        version: sql`excluded.version`,
        underlyingPrice: sql`excluded.underlying_price`,
        atmByTenor: sql`excluded.atm_by_tenor`,
        index30: sql`excluded.index30`,
        riskReversal25: sql`excluded.risk_reversal25`,
        butterfly25: sql`excluded.butterfly25`,
        impliedFinancing: sql`excluded.implied_financing`,
        impliedBorrow: sql`excluded.implied_borrow`,
        impliedDividends: sql`excluded.implied_dividends`,
        smiles: sql`excluded.smiles`,
        exEvent30: sql`excluded.ex_event30`,
        eventMoves: sql`excluded.event_moves`,
        straddles: sql`excluded.straddles`,
        quantiles: sql`excluded.quantiles`,
        quality: sql`excluded.quality`,
        realizedByWindow: sql`excluded.realized_by_window`,
        optionVolume: sql`excluded.option_volume`,
        openInterest: sql`excluded.open_interest`,
        quotes: sql`excluded.quotes`,
        rejected: sql`excluded.rejected`,
        source: sql`excluded.source`,
      },
    });
}

/** Stored instants whose measures are missing or were made by another version, by underlying and time. */
export async function outdatedInstants(
  database: Database | Transaction,
  version: number,
  within?: { underlyingId: number; from: Date; to: Date },
): Promise<{ underlyingId: number; instant: Date }[]> {
  const bounds = within
    ? sql`and s.underlying_id = ${within.underlyingId} and s.instant between ${within.from.toISOString()} and ${within.to.toISOString()}`
    : sql``;
  const { rows } = await database.execute<{ underlying_id: number; instant: string }>(sql`
    select distinct s.underlying_id, s.instant from slices s
    left join derived_measures m on m.underlying_id = s.underlying_id and m.instant = s.instant
    where (m.version is null or m.version <> ${version}) ${bounds}
    order by s.underlying_id, s.instant`);
  return rows.map((r) => ({ underlyingId: r.underlying_id, instant: new Date(r.instant) }));
}

/** Takes out the measures of instants. */
export async function dropMeasures(
  database: Database | Transaction,
  instants: readonly { underlyingId: number; instant: Date }[],
): Promise<void> {
  const ids = [...new Set(instants.map((i) => i.underlyingId))];
  for (const id of ids) {
    const own = instants.flatMap((i) => (i.underlyingId === id ? [i.instant.toISOString()] : []));
    await database.execute(sql`
      delete from derived_measures where underlying_id = ${id} and instant = any(${`{${own.join(',')}}`}::timestamptz[])`);
  }
}

/** Marks all measures of an underlying as derived by other code, so that they are derived anew. */
export async function outdateMeasures(database: Database | Transaction, underlyingId: number): Promise<void> {
  await database.update(derivedMeasures).set({ version: 0 }).where(eq(derivedMeasures.underlyingId, underlyingId));
}
