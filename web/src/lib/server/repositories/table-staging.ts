import type postgres from 'postgres';
import { type ColumnType, columnsOf, type TableKind } from '@umwelt/market/table-format';
import { copyIn, type CopyIn } from '../database/copy-in.ts';

type Sql = postgres.ReservedSql;
export type ImportedTable = Exclude<TableKind, 'chains'>;

const TYPES: Record<ColumnType, string> = { text: 'text', number: 'float8', date: 'date', instant: 'timestamptz' };

/** Columns that tell rows of a table apart. */
const KEYS: Record<ImportedTable, readonly string[]> = {
  bars: ['underlying', 'session'],
  rates: ['currency', 'session', 'days'],
  dividends: ['underlying', 'ex_date'],
  events: ['underlying', 'instant', 'kind', 'label'],
};

/** Temporary table of a connection that takes the rows of a table in. */
export async function createTableStaging(sql: Sql, table: ImportedTable): Promise<void> {
  const columns = columnsOf(table).map((c) => `${c.name} ${TYPES[c.type]} not null`);
  await sql`drop table if exists staged_row`;
  await sql.unsafe(`create temporary table staged_row (line integer not null, ${columns.join(', ')})`);
}

export function copyTableRows(sql: Sql): Promise<CopyIn> {
  return copyIn(sql, 'copy staged_row from stdin');
}

export async function dropTableStaging(sql: Sql): Promise<void> {
  await sql`drop table if exists staged_row`;
}

/** Rows with the key of an earlier row. */
export async function doubleRows(sql: Sql, table: ImportedTable, limit: number) {
  const key = KEYS[table].join(', ');
  const rows = await sql.unsafe<{ line: number; first: number; value: string }[]>(`
    select line, first, value from (
      select line, min(line) over (partition by ${key}) as first, concat_ws(' ', ${key}) as value from staged_row
    ) t where line > first order by line limit ${limit}`);
  return { columns: KEYS[table], rows: [...rows] };
}

/** Symbols of the staged rows, as they are stored where they are known, whatever their case. */
export async function stagedSymbols(sql: Sql): Promise<{ symbol: string; isKnown: boolean }[]> {
  await sql`
    update staged_row r set underlying = u.symbol from underlyings u
    where lower(u.symbol) = lower(r.underlying) and u.symbol <> r.underlying
      and not exists (select 1 from underlyings e where e.symbol = r.underlying)`;
  return sql<{ symbol: string; isKnown: boolean }[]>`
    select distinct r.underlying as symbol, u.id is not null as "isKnown"
    from staged_row r left join underlyings u on u.symbol = r.underlying order by 1`;
}

/** Stores the staged rows as the user's; those that are stored already are replaced. */
export async function storeStagedRows(sql: Sql, table: ImportedTable): Promise<void> {
  switch (table) {
    case 'bars':
      await sql`
        insert into daily_bars (underlying_id, session, open, high, low, close, volume, source)
        select u.id, r.session, r.open, r.high, r.low, r.close, r.volume, 'user'
        from staged_row r join underlyings u on u.symbol = r.underlying order by 1, 2
        on conflict (underlying_id, session) do update set open = excluded.open, high = excluded.high,
          low = excluded.low, close = excluded.close, volume = excluded.volume, source = 'user'`;
      return;
    case 'rates':
      await sql`
        insert into rate_curves (currency, session, days, rates, source)
        select currency, session, array_agg(days order by days), array_agg(rate order by days), 'user'
        from staged_row group by 1, 2 order by 1, 2
        on conflict (currency, session) do update set days = excluded.days, rates = excluded.rates, source = 'user'`;
      return;
    case 'dividends':
      await sql`
        insert into dividends (underlying_id, ex_date, instant, amount, source)
        select u.id, r.ex_date, r.instant, r.amount, 'user'
        from staged_row r join underlyings u on u.symbol = r.underlying order by 1, 2
        on conflict (underlying_id, ex_date) do update set instant = excluded.instant, amount = excluded.amount, source = 'user'`;
      return;
    case 'events':
      await sql`
        insert into events (underlying_id, instant, kind, label, source)
        select u.id, r.instant, r.kind, r.label, 'user'
        from staged_row r join underlyings u on u.symbol = r.underlying order by 1, 2
        on conflict (underlying_id, instant, kind, label) do update set source = 'user'`;
  }
}
