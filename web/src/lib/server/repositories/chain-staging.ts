import type { Session } from '../database/connect.ts';
import { copyIn, type CopyIn } from '../database/copy-in.ts';
import type { ImportTerms } from '../../api/chain-import.ts';

type Sql = Session['sql'];

const SIDES = ['call', 'put'] as const;
/** Columns of a quote, in the staging table as in a slice under its side's name. */
const QUOTE_COLUMNS = ['bid', 'ask', 'bid_size', 'ask_size', 'last', 'volume', 'open_interest'] as const;
/** What quotes in volatility are made of; kept only until they are. */
const VOLATILITY_COLUMNS = ['volatility', 'bid_volatility', 'ask_volatility'] as const;
const sided = (columns: readonly string[]) => SIDES.flatMap((side) => columns.map((column) => `${side}_${column}`));
const SLICE_QUOTES = sided(QUOTE_COLUMNS);
/** Line of rows that are taken over from what is stored: after all lines of a file. */
const STORED_LINE = 2_147_483_647;

/** Temporary table of a connection that takes quotes row by row and lets the database gather them into slices. */
export async function createStaging(sql: Sql): Promise<void> {
  await dropStaging(sql);
  const quotes = [...QUOTE_COLUMNS, ...VOLATILITY_COLUMNS].map((name) => `${name} float8 not null`).join(', ');
  await sql.text(`
    create temporary table staged_quote (
      line integer not null, underlying text not null, instant timestamptz not null, underlying_price float8 not null,
      expiry timestamptz not null, side "char" not null, strike float8 not null, ${quotes},
      is_volatility boolean not null, is_implied boolean not null
    )`);
}

/** Begins to take rows in, as text in the order of the columns. */
export function copyStaged({ client }: Pick<Session, 'client'>): Promise<CopyIn> {
  return copyIn(client, 'copy staged_quote from stdin');
}

export async function dropStaging(sql: Sql): Promise<void> {
  await sql`drop table if exists staged_quote, gathered_slice`;
}

/** How many quotes were staged. */
export async function stagedCount(sql: Sql): Promise<number> {
  const [{ rows }] = await sql<{ rows: number }[]>`select count(*)::int as rows from staged_quote`;
  return rows;
}

/** First and last instant of the staged quotes, the months that have some, the most strikes of a slice, and the sides quoted. */
export async function stagedExtent(sql: Sql): Promise<{
  first: Date;
  last: Date;
  months: Date[];
  largest: { strikes: number; symbol: string; line: number };
  sides: ('call' | 'put')[];
}> {
  // The planner knows nothing of a table that has just been filled.
  await sql`analyze staged_quote`;
  const months = await sql<{ month: string; first: string; last: string; sides: string }[]>`
    select date_trunc('month', instant at time zone 'UTC') at time zone 'UTC' as month, min(instant) as first, max(instant) as last,
      string_agg(distinct side::text, '') as sides
    from staged_quote group by 1 order by 1`;
  const [largest] = await sql<{ strikes: number; symbol: string; line: number }[]>`
    select count(distinct strike)::int as strikes, underlying as symbol, min(line) as line from staged_quote
    group by underlying, instant, expiry order by 1 desc limit 1`;
  const [first, last] = [months[0].first, months[months.length - 1].last].map((text) => new Date(text));
  const letters = months.map((m) => m.sides).join('');
  return {
    first,
    last,
    months: months.map((m) => new Date(m.month)),
    largest,
    sides: SIDES.filter((side) => letters.includes(side[0])),
  };
}

/** Rows that quote the same contract at the same instant as an earlier row: the first of them, and how many there are. */
export async function duplicateRows(
  sql: Sql,
  limit: number,
): Promise<{ count: number; first: { line: number; firstLine: number; strike: number }[] }> {
  const rows = await sql<{ line: number; firstLine: number; strike: number; count: number }[]>`
    select line, first_line as "firstLine", strike, count(*) over ()::int as count from (
      select line, strike, min(line) over (partition by underlying, instant, expiry, side, strike) as first_line
      from staged_quote
    ) t where line > first_line order by line limit ${limit}`;
  return { count: rows[0]?.count ?? 0, first: [...rows] };
}

/** Leaves out rows that quote the same contract at the same instant as an earlier row. */
export async function dropDuplicates(sql: Sql): Promise<void> {
  await sql`
    delete from staged_quote q using (
      select underlying, instant, expiry, side, strike, min(line) as line from staged_quote
      group by 1, 2, 3, 4, 5 having count(*) > 1
    ) k where q.underlying = k.underlying and q.instant = k.instant and q.expiry = k.expiry and q.side = k.side
      and q.strike = k.strike and q.line > k.line`;
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

/** Symbols of the staged quotes, and whether they are stored. */
export function stagedSymbols(sql: Sql): Promise<{ symbol: string; isNew: boolean }[]> {
  return sql<{ symbol: string; isNew: boolean }[]>`
    select s.symbol, u.id is null as "isNew" from (select distinct underlying as symbol from staged_quote) s
    left join underlyings u on u.symbol = s.symbol order by 1`;
}

/** Stores an underlying that is not stored yet with its terms. @returns its id */
export async function insertNewUnderlying(
  sql: Sql,
  o: { symbol: string; terms: ImportTerms; foreignCurrency: string | null; zone: string; sessionClose: string },
): Promise<number | undefined> {
  const { symbol, terms, zone, sessionClose } = o;
  const [created] = await sql<{ id: number }[]>`
    insert into underlyings (symbol, name, sector, source) values (${symbol}, ${symbol}, 'Imported', 'import')
    on conflict (symbol) do nothing returning id`;
  if (!created) return undefined;
  const settlement = terms.kind === 'index' || terms.kind === 'currency' ? 'cash' : 'physical';
  await sql`
    insert into contract_terms (underlying_id, kind, exercise, model, settlement, multiplier, currency, foreign_currency, zone, session_close)
    values (${created.id}, ${terms.kind}, ${terms.exercise}, ${terms.model}, ${settlement}, ${terms.multiplier}, ${terms.currency},
      ${o.foreignCurrency}, ${zone}, ${sessionClose})`;
  return created.id;
}

/**
 * Gathers staged quotes into slices of a table of the connection alone. A side that the file does not quote at all is taken
 * over from what is stored: calls and puts may come in two files.
 */
export async function gatherSlices(sql: Sql): Promise<void> {
  const names = QUOTE_COLUMNS.join(', ');
  for (const side of SIDES) {
    await sql.text(`
      insert into staged_quote
      select ${STORED_LINE}, t.underlying, s.instant, s.underlying_price, s.expiry, '${side[0]}', v.strike, ${names},
        'NaN', 'NaN', 'NaN', s.quoted_in = 'volatility', s.price_source = 'parity'
      from (
        select underlying, instant, expiry from staged_quote group by 1, 2, 3 having not bool_or(side = '${side[0]}')
      ) t join underlyings u on u.symbol = t.underlying
      join slices s on s.underlying_id = u.id and s.instant = t.instant and s.expiry = t.expiry
      cross join lateral unnest(s.strikes, ${QUOTE_COLUMNS.map((column) => `s.${side}_${column}`).join(', ')}) v(strike, ${names})
      where not (${QUOTE_COLUMNS.map((column) => `v.${column} = 'NaN'`).join(' and ')})`);
  }
  const columns = [...QUOTE_COLUMNS, ...VOLATILITY_COLUMNS];
  const aggregated = SIDES.flatMap((side) =>
    columns.map((column) => `coalesce(max(${column}) filter (where side = '${side[0]}'), 'NaN') as ${side}_${column}`),
  );
  const arrays = sided(columns).map((name) => `array_agg(q.${name} order by q.strike) as ${name}`);
  await sql.text(`
    create temporary table gathered_slice as
    select q.underlying, u.id as underlying_id, q.instant, q.expiry,
      coalesce((array_agg(q.underlying_price order by q.line) filter (where q.underlying_price <> 'NaN'))[1], 'NaN') as underlying_price,
      array_agg(q.strike order by q.strike) as strikes, ${arrays.join(', ')},
      case when bool_or(q.is_volatility) then 'volatility' else 'price' end as quoted_in,
      case when bool_or(q.is_implied) then 'parity' else 'quote' end as price_source,
      bool_or(q.is_made) as is_made
    from (
      select underlying, instant, expiry, strike, min(line) as line,
        coalesce((array_agg(underlying_price order by line) filter (where underlying_price <> 'NaN'))[1], 'NaN') as underlying_price,
        bool_or(is_volatility) as is_volatility, bool_and(is_implied) as is_implied,
        bool_or(is_volatility and bid = 'NaN' and ask = 'NaN') as is_made, ${aggregated.join(', ')}
      from staged_quote group by underlying, instant, expiry, strike
    ) q left join underlyings u on u.symbol = q.underlying
    group by q.underlying, u.id, q.instant, q.expiry`);
  await sql`create index on gathered_slice (underlying, instant, expiry)`;
  await sql`analyze gathered_slice`;
}

/** Lets gathered slices of symbols that were new refer to what they are stored as now. */
export async function adoptNewUnderlyings(sql: Sql): Promise<void> {
  await sql`
    update gathered_slice g set underlying_id = u.id from underlyings u
    where g.underlying_id is null and u.symbol = g.underlying`;
}

/** A slice as it was gathered, with the volatilities that it is quoted in. */
export interface GatheredSlice {
  symbol: string;
  instant: Date;
  expiry: Date;
  underlyingPrice: number;
  strikes: number[];
  columns: Record<string, number[]>;
}

/** Instants of an underlying whose price the file lacks, or whose quotes are volatilities. */
export function incompleteInstants(
  sql: Sql,
): Promise<{ symbol: string; instant: Date; lacksPrice: boolean; isMade: boolean }[]> {
  return sql<{ symbol: string; instant: Date; lacksPrice: boolean; isMade: boolean }[]>`
    select underlying as symbol, instant, bool_or(underlying_price = 'NaN') as "lacksPrice", bool_or(is_made) as "isMade"
    from gathered_slice group by 1, 2 having bool_or(underlying_price = 'NaN') or bool_or(is_made) order by 1, 2`.then(
    (rows) => rows.map((row) => ({ ...row, instant: new Date(row.instant) })),
  );
}

/** Gathered slices of an underlying at one instant, or at its latest, nearest expiry first. */
export async function gatheredAt(sql: Sql, symbol: string, instant?: Date): Promise<GatheredSlice[]> {
  const names = sided([...QUOTE_COLUMNS, ...VOLATILITY_COLUMNS]);
  const rows = await sql.text<Record<string, unknown>[]>(
    `select instant, expiry, underlying_price, strikes, ${names.join(', ')} from gathered_slice
     where underlying = $1 and instant = coalesce($2::timestamptz, (select max(instant) from gathered_slice where underlying = $1))
     order by expiry`,
    [symbol, instant?.toISOString() ?? null],
  );
  return rows.map((row) => ({
    symbol,
    instant: new Date(row.instant as string),
    expiry: new Date(row.expiry as string),
    underlyingPrice: row.underlying_price as number,
    strikes: row.strikes as number[],
    columns: Object.fromEntries(names.map((name) => [name, row[name] as number[]])),
  }));
}

/** Puts the price that parity implies where a gathered slice has none. */
export async function setImpliedPrice(
  sql: Sql,
  o: { symbol: string; instant: Date; expiry: Date; price: number },
): Promise<void> {
  await sql`
    update gathered_slice set underlying_price = ${o.price}, price_source = 'parity'
    where underlying = ${o.symbol} and instant = ${o.instant.toISOString()} and expiry = ${o.expiry.toISOString()} and underlying_price = 'NaN'`;
}

/** Puts prices that were made of volatilities where a gathered slice has none. */
export async function setMadeQuotes(
  sql: Sql,
  o: { symbol: string; instant: Date; expiry: Date } & Record<'callBid' | 'callAsk' | 'putBid' | 'putAsk', number[]>,
): Promise<void> {
  await sql`
    update gathered_slice set call_bid = ${o.callBid}::float8[], call_ask = ${o.callAsk}::float8[],
      put_bid = ${o.putBid}::float8[], put_ask = ${o.putAsk}::float8[]
    where underlying = ${o.symbol} and instant = ${o.instant.toISOString()} and expiry = ${o.expiry.toISOString()}`;
}

const STORED = ['underlying_price', 'strikes', ...SLICE_QUOTES, 'quoted_in', 'price_source'];
const tuple = (of: string) => `(${STORED.map((name) => `${of}.${name}`).join(', ')})`;
const SAME_KEY = 's.underlying_id = g.underlying_id and s.instant = g.instant and s.expiry = g.expiry';

/** What storing the gathered slices would do: how many are new, change, are stored just so; and how many of the demo's change. */
export async function compareGathered(
  sql: Sql,
): Promise<{ new: number; changed: number; same: number; demo: number; claimed: number }> {
  const [row] = await sql.text<{ new: number; changed: number; same: number; demo: number; claimed: number }[]>(`
    select count(*) filter (where s.instant is null)::int as new,
      count(*) filter (where s.instant is not null and ${tuple('s')} is distinct from ${tuple('g')})::int as changed,
      count(*) filter (where s.instant is not null and ${tuple('s')} is not distinct from ${tuple('g')})::int as same,
      count(*) filter (where s.source = 'demo' and ${tuple('s')} is distinct from ${tuple('g')})::int as demo,
      count(*) filter (where s.source = 'demo' and ${tuple('s')} is not distinct from ${tuple('g')})::int as claimed
    from gathered_slice g left join slices s on ${SAME_KEY}`);
  return row;
}

/**
 * Stores the gathered slices, whose partitions must be there, as those of an import. What the demo quotes just so is the
 * user's from now on: making the demo anew must not take it away.
 */
export async function storeGathered(sql: Sql, importId: string): Promise<void> {
  const set = [...STORED, 'source', 'import_id'].map((name) => `${name} = excluded.${name}`).join(', ');
  await sql.text(
    `insert into slices as s (underlying_id, instant, expiry, ${STORED.join(', ')}, source, import_id)
     select underlying_id, instant, expiry, ${STORED.join(', ')}, 'user', $1::uuid from gathered_slice g
     order by underlying_id, instant, expiry
     on conflict (underlying_id, instant, expiry) do update set ${set}
     where s.source <> 'user' or ${tuple('s')} is distinct from ${tuple('excluded')}`,
    [importId],
  );
}

/** Rows of `slices` that storing the gathered ones would write, with what is there now: for the images of an import. */
export const GATHERED_WRITES = `
  select jsonb_build_object('underlying_id', g.underlying_id, 'instant', g.instant, 'expiry', g.expiry) as key,
    case when s.instant is null then null else to_jsonb(s) end as before
  from gathered_slice g left join slices s on ${SAME_KEY}
  where s.instant is null or s.source <> 'user' or ${tuple('s')} is distinct from ${tuple('g')}`;

/** Underlyings and instants (milliseconds since 1970 UTC) of the gathered slices, latest instant first. */
export function gatheredInstants(sql: Sql): Promise<{ id: number; symbol: string; instant: number }[]> {
  return sql<{ id: number; symbol: string; instant: number }[]>`
    select distinct underlying_id as id, underlying as symbol, (extract(epoch from instant) * 1000)::float8 as instant
    from gathered_slice order by instant desc`;
}

/** How many instants, expiries and slices made of volatilities were gathered. */
export async function gatheredCounts(sql: Sql) {
  const [row] = await sql<{ slices: number; instants: number; expiries: number; made: number }[]>`
    select count(*)::int as slices, count(distinct instant)::int as instants, count(distinct expiry)::int as expiries,
      count(*) filter (where quoted_in = 'volatility')::int as made from gathered_slice`;
  return row;
}
