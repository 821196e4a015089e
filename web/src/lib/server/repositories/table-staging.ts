import { type ColumnType, columnsOf, type TableKind } from '@umwelt/market/table-format';
import type { Session } from '../database/connect.ts';
import { copyIn, type CopyIn } from '../database/copy-in.ts';
import { type ImagedTable, recordImages } from './import-images.ts';

type Sql = Session['sql'];
export type ImportedTable = Exclude<TableKind, 'chains'>;

const TYPES: Record<ColumnType, string> = { text: 'text', number: 'float8', date: 'date', instant: 'timestamptz' };

/** Columns that tell rows of a table apart. */
const KEYS: Record<ImportedTable, readonly string[]> = {
  bars: ['underlying', 'session'],
  'intraday-bars': ['underlying', 'bar_end'],
  splits: ['underlying', 'session'],
  rates: ['currency', 'session', 'days'],
  dividends: ['underlying', 'ex_date'],
  events: ['underlying', 'instant', 'kind', 'label'],
};

/** Temporary table of a connection that takes the rows of a table in. */
export async function createTableStaging(sql: Sql, table: ImportedTable): Promise<void> {
  const columns = columnsOf(table).map((c) => `${c.name} ${TYPES[c.type]} not null`);
  await sql`drop table if exists staged_row`;
  await sql.text(`create temporary table staged_row (line integer not null, ${columns.join(', ')})`);
}

export function copyTableRows({ client }: Pick<Session, 'client'>): Promise<CopyIn> {
  return copyIn(client, 'copy staged_row from stdin');
}

export async function dropTableStaging(sql: Sql): Promise<void> {
  await sql`drop table if exists staged_row`;
}

/** Rows with the key of an earlier row. */
export async function doubleRows(sql: Sql, table: ImportedTable, limit: number) {
  const key = KEYS[table].join(', ');
  const rows = await sql.text<{ line: number; first: number; value: string }[]>(`
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

/** Where the rows of a table go: target, columns that tell its rows apart, other columns, and the rows as the target has them. */
const TARGETS: Record<ImportedTable, { into: ImagedTable; key: string[]; values: string[]; rows: string }> = {
  bars: {
    into: 'daily_bars',
    key: ['underlying_id', 'session'],
    values: ['open', 'high', 'low', 'close', 'volume'],
    rows: `select u.id as underlying_id, r.session, r.open, r.high, r.low, r.close, r.volume
      from staged_row r join underlyings u on u.symbol = r.underlying`,
  },
  'intraday-bars': {
    into: 'intraday_bars',
    key: ['underlying_id', 'instant'],
    values: ['open', 'high', 'low', 'close', 'volume'],
    rows: `select u.id as underlying_id, r.bar_end as instant, r.open, r.high, r.low, r.close, r.volume
      from staged_row r join underlyings u on u.symbol = r.underlying`,
  },
  splits: {
    into: 'splits',
    key: ['underlying_id', 'session'],
    values: ['ratio'],
    rows: `select u.id as underlying_id, r.session, r.ratio
      from staged_row r join underlyings u on u.symbol = r.underlying`,
  },
  rates: {
    into: 'rate_curves',
    key: ['currency', 'session'],
    values: ['days', 'rates'],
    rows: `select currency, session, array_agg(days order by days) as days, array_agg(rate order by days) as rates
      from staged_row group by 1, 2`,
  },
  dividends: {
    into: 'dividends',
    key: ['underlying_id', 'ex_date'],
    values: ['instant', 'amount'],
    rows: `select u.id as underlying_id, r.ex_date, r.instant, r.amount
      from staged_row r join underlyings u on u.symbol = r.underlying`,
  },
  events: {
    into: 'events',
    key: ['underlying_id', 'instant', 'kind', 'label'],
    values: [],
    rows: `select u.id as underlying_id, r.instant, r.kind, r.label
      from staged_row r join underlyings u on u.symbol = r.underlying`,
  },
};

/** Whether a stored row has other values than the user's file. */
function differs({ values }: (typeof TARGETS)[ImportedTable], given: string): string {
  const tuple = (of: string) => `(${values.map((name) => `${of}.${name}`).join(', ')})`;
  return values.length > 0 ? `${tuple('t')} is distinct from ${tuple(given)}` : 'false';
}

/** Whether storing writes a row: what the demo has just so becomes the user's. */
function isWritten(target: (typeof TARGETS)[ImportedTable], given: string): string {
  return `(t.source <> 'user' or ${differs(target, given)})`;
}

/** What storing the staged rows would do, and the first of them. */
export async function compareStagedRows(sql: Sql, table: ImportedTable) {
  const target = TARGETS[table];
  const { into, key, rows } = target;
  const same = key.map((name) => `t.${name} = g.${name}`).join(' and ');
  const [counts] = await sql.text<{ found: number; new: number; changed: number }[]>(
    `select count(*)::int as found, count(*) filter (where t.${key[0]} is null)::int as new,
       count(*) filter (where t.${key[0]} is not null and (${differs(target, 'g')}))::int as changed
     from (${rows}) g left join ${into} t on ${same}`,
  );
  // Rows of underlyings that are not stored yet are new, too.
  const [{ unknown }] =
    table === 'rates'
      ? [{ unknown: 0 }]
      : await sql<{ unknown: number }[]>`
          select count(*)::int as unknown from staged_row r
          where not exists (select from underlyings u where u.symbol = r.underlying)`;
  const columns = columnsOf(table).map((c) => c.name);
  const first = await sql.text<Record<string, string | number | null>[]>(
    `select ${columns.map((name) => `${name}::text`).join(', ')} from staged_row order by line limit 12`,
  );
  return {
    new: counts.new + unknown,
    changed: counts.changed,
    same: counts.found - counts.new - counts.changed,
    columns,
    first: first.map((row) => columns.map((name) => String(row[name] ?? ''))),
  };
}

/**
 * Stores the staged rows as the user's and of an import, whose images are kept; those that are stored otherwise are replaced.
 * @returns how many rows were new or changed
 */
export async function storeStagedRows(sql: Sql, table: ImportedTable, importId: string): Promise<number> {
  const target = TARGETS[table];
  const { into, key, values, rows } = target;
  const same = key.map((name) => `t.${name} = g.${name}`).join(' and ');
  await recordImages(
    sql,
    importId,
    into,
    `select jsonb_build_object(${key.map((name) => `'${name}', g.${name}`).join(', ')}) as key,
       case when t.${key[0]} is null then null else to_jsonb(t) end as before
     from (${rows}) g left join ${into} t on ${same} where t.${key[0]} is null or ${isWritten(target, 'g')}`,
  );
  const names = [...key, ...values];
  const set = [...values, 'source', 'import_id'].map((name) => `${name} = excluded.${name}`).join(', ');
  return sql.written(
    `insert into ${into} as t (${names.join(', ')}, source, import_id)
     select ${names.map((name) => `g.${name}`).join(', ')}, 'user', $1::uuid from (${rows}) g order by ${key.join(', ')}
     on conflict (${key.join(', ')}) do update set ${set} where ${isWritten(target, 'excluded')}`,
    [importId],
  );
}
