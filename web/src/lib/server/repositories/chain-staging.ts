import type postgres from 'postgres';
import { copyIn, type CopyIn } from '../database/copy-in.ts';
import type { ImportTerms } from '../../schema/chain-import.ts';

type Sql = postgres.ReservedSql;

const SIDES = ['call', 'put'] as const;
/** Columns of a quote, in the staging table as in a slice under its side's name. */
const QUOTE_COLUMNS = ['bid', 'ask', 'bid_size', 'ask_size', 'last', 'volume', 'open_interest'] as const;

/** Temporary table of a connection that takes quotes row by row and lets the database gather them into slices. */
export async function createStaging(sql: Sql): Promise<void> {
  await sql`drop table if exists staged_quote`;
  await sql`
    create temporary table staged_quote (
      line integer not null, underlying text not null, instant timestamptz not null, underlying_price float8 not null,
      expiry timestamptz not null, side "char" not null, strike float8 not null, bid float8 not null, ask float8 not null,
      bid_size float8 not null, ask_size float8 not null, last float8 not null, volume float8 not null, open_interest float8 not null
    )`;
}

/** Begins to take rows in, as text in the order of the columns. */
export function copyStaged(sql: Sql): Promise<CopyIn> {
  return copyIn(sql, 'copy staged_quote from stdin');
}

export async function dropStaging(sql: Sql): Promise<void> {
  await sql`drop table if exists staged_quote`;
}

/** First and last instant of the staged quotes, the months between them that have some, and the most strikes of a slice. */
export async function stagedExtent(
  sql: Sql,
): Promise<{ first: Date; last: Date; months: Date[]; largest: { strikes: number; symbol: string; line: number } }> {
  // The planner knows nothing of a table that has just been filled.
  await sql`analyze staged_quote`;
  const months = await sql<{ month: string; first: string; last: string }[]>`
    select date_trunc('month', instant at time zone 'UTC') at time zone 'UTC' as month, min(instant) as first, max(instant) as last
    from staged_quote group by 1 order by 1`;
  const [largest] = await sql<{ strikes: number; symbol: string; line: number }[]>`
    select count(distinct strike)::int as strikes, underlying as symbol, min(line) as line from staged_quote
    group by underlying, instant, expiry order by 1 desc limit 1`;
  const [first, last] = [months[0].first, months[months.length - 1].last].map((text) => new Date(text));
  return { first, last, months: months.map((m) => new Date(m.month)), largest };
}

/** Rows that quote the same contract at the same instant as an earlier row. */
export function duplicateRows(sql: Sql, limit: number): Promise<{ line: number; firstLine: number; strike: number }[]> {
  return sql<{ line: number; firstLine: number; strike: number }[]>`
    select line, first_line as "firstLine", strike from (
      select line, strike, min(line) over (partition by underlying, instant, expiry, side, strike) as first_line
      from staged_quote
    ) t where line > first_line order by line limit ${limit}`;
}

/**
 * One import of an underlying at a time, and one of the same bytes: held to the end of the transaction, taken in one order.
 * @param o.sha256 of the file
 */
export async function lockImport(sql: Sql, o: { owner: string; sha256: string }): Promise<void> {
  await sql`select pg_advisory_xact_lock(hashtextextended(${`file ${o.owner} ${o.sha256}`}, 0))`;
  await sql`
    select pg_advisory_xact_lock(hashtextextended('underlying ' || symbol, 0))
    from (select distinct lower(underlying) as symbol from staged_quote order by 1) s`;
}

/** Lets symbols that are stored in another case mean what is stored. */
export async function adoptStoredSymbols(sql: Sql): Promise<void> {
  await sql`
    update staged_quote q set underlying = u.symbol from underlyings u
    where lower(u.symbol) = lower(q.underlying) and u.symbol <> q.underlying
      and not exists (select 1 from underlyings e where e.symbol = q.underlying)`;
}

/** Symbols in the staging table that are not stored yet get these terms. */
export async function insertNewUnderlyings(sql: Sql, terms: ImportTerms, zone: string): Promise<void> {
  const created = await sql<{ id: number }[]>`
    insert into underlyings (symbol, name, sector, source)
    select distinct underlying, underlying, 'Imported', 'import' from staged_quote order by 1
    on conflict (symbol) do nothing returning id`;
  if (created.length === 0) return;
  const settlement = terms.kind === 'index' || terms.kind === 'currency' ? 'cash' : 'physical';
  await sql`
    insert into contract_terms (underlying_id, kind, exercise, model, settlement, multiplier, currency, zone)
    select id, ${terms.kind}, ${terms.exercise}, ${terms.model}, ${settlement}, ${terms.multiplier}, ${terms.currency}, ${zone}
    from unnest(${created.map((c) => c.id)}::int[]) as id`;
}

/** Gathers staged quotes into slices, whose partitions must be there; returns how many there were, and how many were new or changed. */
export async function gatherSlices(sql: Sql): Promise<{ total: number; inserted: number; changed: number }> {
  // A partitioned table does not tell inserted from updated rows, so those that are there are counted before.
  const [{ total, known }] = await sql<{ total: number; known: number }[]>`
    select count(*)::int as total, count(s.instant)::int as known
    from (select distinct u.id, q.instant, q.expiry from staged_quote q join underlyings u on u.symbol = q.underlying) t
    left join slices s on s.underlying_id = t.id and s.instant = t.instant and s.expiry = t.expiry`;
  const names = SIDES.flatMap((side) => QUOTE_COLUMNS.map((column) => `${side}_${column}`));
  const each = (text: (name: string) => string) => sql.unsafe(names.map(text).join(', '));
  const aggregated = SIDES.flatMap((side) =>
    QUOTE_COLUMNS.map(
      (column) => `coalesce(max(${column}) filter (where side = '${side[0]}'), 'NaN') as ${side}_${column}`,
    ),
  );
  const written = await sql`
    insert into slices (underlying_id, instant, expiry, underlying_price, strikes, ${each((n) => n)}, source)
    select u.id, q.instant, q.expiry, (array_agg(q.underlying_price order by q.line))[1],
      array_agg(q.strike order by q.strike), ${each((n) => `array_agg(q.${n} order by q.strike)`)}, 'user'
    from (
      select underlying, instant, expiry, strike, min(line) as line,
        (array_agg(underlying_price order by line))[1] as underlying_price, ${sql.unsafe(aggregated.join(', '))}
      from staged_quote group by underlying, instant, expiry, strike
    ) q join underlyings u on u.symbol = q.underlying
    group by u.id, q.instant, q.expiry order by u.id, q.instant, q.expiry
    on conflict (underlying_id, instant, expiry) do update set
      underlying_price = excluded.underlying_price, strikes = excluded.strikes, source = excluded.source,
      ${each((n) => `${n} = excluded.${n}`)}
    where (slices.underlying_price, slices.strikes, ${each((n) => `slices.${n}`)})
      is distinct from (excluded.underlying_price, excluded.strikes, ${each((n) => `excluded.${n}`)})`;
  // What the demo quotes just so is the user's from now on: making the demo anew must not take it away.
  await sql`
    update slices s set source = 'user'
    from (select distinct u.id, q.instant, q.expiry from staged_quote q join underlyings u on u.symbol = q.underlying) t
    where s.underlying_id = t.id and s.instant = t.instant and s.expiry = t.expiry and s.source <> 'user'`;
  const inserted = total - known;
  return { total, inserted, changed: written.count - inserted };
}

/** Underlyings and instants (milliseconds since 1970 UTC) in the staging table, latest instant first. */
export function stagedInstants(sql: Sql): Promise<{ id: number; symbol: string; instant: number }[]> {
  return sql<{ id: number; symbol: string; instant: number }[]>`
    select distinct u.id, u.symbol, (extract(epoch from q.instant) * 1000)::float8 as instant
    from staged_quote q join underlyings u on u.symbol = q.underlying order by instant desc`;
}

/** An earlier import of the same bytes with the same options by the same owner. */
export async function earlierImport(sql: Sql, o: { owner: string; sha256: string; options: object }) {
  const [row] = await sql<{ id: string; rows: number; slices: number }[]>`
    select id, rows, slices from imports
    where owner = ${o.owner} and sha256 = ${o.sha256} and options = ${JSON.stringify(o.options)}::text::jsonb limit 1`;
  return row;
}

/** Records a finished import and remembers its mapping for files with the same headers. */
export async function recordImport(
  sql: Sql,
  o: {
    owner: string;
    fileName: string;
    sha256: string;
    options: object;
    headers: string;
    rows: number;
    slices: number;
  },
): Promise<string> {
  await sql`
    insert into import_mappings (owner, headers, options) values (${o.owner}, ${o.headers}, ${JSON.stringify(o.options)}::text::jsonb)
    on conflict (owner, headers) do update set options = excluded.options`;
  const [{ id }] = await sql<{ id: string }[]>`
    insert into imports (owner, file_name, sha256, options, rows, slices)
    values (${o.owner}, ${o.fileName}, ${o.sha256}, ${JSON.stringify(o.options)}::text::jsonb, ${o.rows}, ${o.slices}) returning id`;
  return id;
}
