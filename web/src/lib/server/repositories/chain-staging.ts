import { Writable } from 'node:stream';
import { finished } from 'node:stream/promises';
import type postgres from 'postgres';
import type { ChainRow } from '@umwelt/market/chain-file';
import { ensurePartitions } from './slices.ts';
import type { ImportTerms } from '../../schema/chain-import.ts';

type Sql = postgres.TransactionSql;

const SIDES = ['call', 'put'] as const;
/** Columns of a quote, in the staging table as in a slice under its side's name. */
const QUOTE_COLUMNS = ['bid', 'ask', 'bid_size', 'ask_size', 'last', 'volume', 'open_interest'] as const;

/** Temporary table that takes quotes row by row and lets the database gather them into slices. */
export async function createStaging(sql: Sql): Promise<void> {
  await sql`
    create temporary table staged_quote (
      line integer not null, underlying text not null, instant timestamptz not null, underlying_price float8 not null,
      expiry timestamptz not null, side "char" not null, strike float8 not null, bid float8 not null, ask float8 not null,
      bid_size float8 not null, ask_size float8 not null, last float8 not null, volume float8 not null, open_interest float8 not null
    ) on commit drop`;
}

/** Sink that streams rows into the staging table by COPY; `end` waits until all have arrived. */
export async function openStaging(sql: Sql) {
  const stream: Writable = await sql`copy staged_quote from stdin`.writable();
  const done = finished(stream);
  // Awaited in `end`; until then a failure must not count as unhandled.
  done.catch(() => undefined);
  let buffer = '';
  const flush = async () => {
    const isFull = !stream.write(buffer);
    buffer = '';
    if (isFull) await Promise.race([new Promise((resolve) => stream.once('drain', resolve)), done]);
  };
  return {
    async write(r: ChainRow): Promise<void> {
      const at = new Date(r.asOf).toISOString();
      const expiry = new Date(r.expiry).toISOString();
      const symbol = r.underlying.replace(/[\\\t\n\r]/g, '_');
      buffer += `${r.line}\t${symbol}\t${at}\t${r.underlyingPrice}\t${expiry}\t${r.side[0]}\t${r.strike}\t${r.bid}\t${r.ask}\t${r.bidSize}\t${r.askSize}\t${r.last}\t${r.volume}\t${r.openInterest}\n`;
      if (buffer.length > 1 << 16) await flush();
    },
    async end(): Promise<void> {
      await flush();
      stream.end();
      await done;
    },
    abort(error: Error): void {
      stream.destroy(error);
    },
  };
}

/** Rows that quote the same contract at the same instant as an earlier row. */
export function duplicateRows(sql: Sql, limit: number): Promise<{ line: number; firstLine: number; strike: number }[]> {
  return sql<{ line: number; firstLine: number; strike: number }[]>`
    select line, first_line as "firstLine", strike from (
      select line, strike, min(line) over (partition by underlying, instant, expiry, side, strike) as first_line
      from staged_quote
    ) t where line > first_line order by line limit ${limit}`;
}

/** Symbols in the staging table that are not stored yet, and whether they get these terms. */
export async function insertNewUnderlyings(sql: Sql, terms: ImportTerms, zone: string): Promise<void> {
  const created = await sql<{ id: number }[]>`
    insert into underlyings (symbol, name, sector, source)
    select distinct underlying, underlying, 'Imported', 'import' from staged_quote
    on conflict (symbol) do nothing returning id`;
  if (created.length === 0) return;
  const settlement = terms.kind === 'index' || terms.kind === 'currency' ? 'cash' : 'physical';
  await sql`
    insert into contract_terms (underlying_id, kind, exercise, model, settlement, multiplier, currency, zone)
    select id, ${terms.kind}, ${terms.exercise}, ${terms.model}, ${settlement}, ${terms.multiplier}, ${terms.currency}, ${zone}
    from unnest(${created.map((c) => c.id)}::int[]) as id`;
}

/** Gathers staged quotes into slices; returns how many there were, and how many were new or changed. */
export async function gatherSlices(sql: Sql): Promise<{ total: number; inserted: number; changed: number }> {
  const months = await sql<{ instant: string }[]>`
    select distinct date_trunc('month', instant at time zone 'UTC') at time zone 'UTC' as instant from staged_quote`;
  await ensurePartitions(
    sql,
    months.map((m) => new Date(m.instant)),
  );
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
    group by u.id, q.instant, q.expiry
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
