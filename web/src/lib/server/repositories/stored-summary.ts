import type { QuoteReasonText } from '../../api/market-resource.ts';
import { sql } from 'drizzle-orm';
import type { Database, Transaction } from '../database/connect.ts';

export interface StoredSummary {
  symbol: string;
  instants: number;
  sessions: number;
  /** Sessions with a bar but without a chain, between the first and the last chain */
  gaps: number;
  slices: number;
  first: Date | null;
  latest: Date | null;
  bars: number;
}

/** What is stored of each underlying, in the order of listing. */
export async function storedSummary(database: Database | Transaction): Promise<StoredSummary[]> {
  const { rows } = await database.execute<Record<string, string | number | null>>(sql`
    with chains as (
      select underlying_id, instant, count(*) as slices from slices group by underlying_id, instant
    ), days as (
      select c.underlying_id, (c.instant at time zone 'UTC')::date as day, count(*) as instants, sum(slices) as slices,
        min(c.instant) as first, max(c.instant) as latest
      from chains c group by 1, 2
    ), stored as (
      select underlying_id, sum(instants)::int as instants, count(*)::int as sessions, sum(slices)::int as slices,
        min(first) as first, max(latest) as latest, min(day) as first_day, max(day) as latest_day
      from days group by underlying_id
    ), bars as (
      select b.underlying_id, count(*)::int as bars,
        count(*) filter (where b.session between s.first_day and s.latest_day and d.day is null)::int as gaps
      from daily_bars b
      left join stored s on s.underlying_id = b.underlying_id
      left join days d on d.underlying_id = b.underlying_id and d.day = b.session
      group by b.underlying_id
    )
    select u.symbol, coalesce(s.instants, 0) as instants, coalesce(s.sessions, 0) as sessions,
      coalesce(b.gaps, 0) as gaps, coalesce(s.slices, 0) as slices, s.first, s.latest, coalesce(b.bars, 0) as bars
    from underlyings u
    left join stored s on s.underlying_id = u.id
    left join bars b on b.underlying_id = u.id
    order by u.id`);
  return rows.map((r) => ({
    symbol: String(r.symbol),
    instants: Number(r.instants),
    sessions: Number(r.sessions),
    gaps: Number(r.gaps),
    slices: Number(r.slices),
    first: r.first === null ? null : new Date(r.first),
    latest: r.latest === null ? null : new Date(r.latest),
    bars: Number(r.bars),
  }));
}

export interface RejectedCount {
  reason: QuoteReasonText;
  /** At each underlying's latest instant */
  latest: number;
  all: number;
}

/** Quotes judged bad by reason, and how many quotes there were. */
export async function rejectedQuotes(
  database: Database | Transaction,
): Promise<{ quotes: { latest: number; all: number }; reasons: RejectedCount[] }> {
  const judged = sql`
    with newest as (select underlying_id, max(instant) as instant from derived_measures group by underlying_id),
      judged as (
        select m.quotes, m.rejected, n.instant is not null as is_latest
        from derived_measures m left join newest n using (underlying_id, instant)
      )`;
  const {
    rows: [totals],
  } = await database.execute<{ latest: number; all: number }>(sql`${judged}
    select coalesce(sum(quotes), 0)::float8 as "all", coalesce(sum(quotes) filter (where is_latest), 0)::float8 as latest
    from judged`);
  const { rows: reasons } = await database.execute<{
    reason: QuoteReasonText;
    latest: number;
    all: number;
  }>(sql`${judged}
    select r.key as reason, sum(r.value::int)::float8 as "all",
      coalesce(sum(r.value::int) filter (where is_latest), 0)::float8 as latest
    from judged, jsonb_each_text(rejected) r group by r.key order by 2 desc`);
  return { quotes: totals, reasons: [...reasons] };
}
