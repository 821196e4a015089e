import type { Session } from '../database/connect.ts';

type Sql = Session['sql'];

/** Tables that imports write to, with the columns that tell their rows apart. */
const KEYS = {
  slices: ['underlying_id', 'instant', 'expiry'],
  daily_bars: ['underlying_id', 'session'],
  intraday_bars: ['underlying_id', 'instant'],
  splits: ['underlying_id', 'session'],
  rate_curves: ['currency', 'session'],
  dividends: ['underlying_id', 'ex_date'],
  events: ['underlying_id', 'instant', 'kind', 'label'],
} as const;
export type ImagedTable = keyof typeof KEYS;
const TABLES = Object.keys(KEYS) as ImagedTable[];

/** Imports that can be taken back, and bytes of what they replaced, all together. */
const MOST_IMPORTS = 50;
const MOST_BYTES = 2 ** 31;

/**
 * Writes down what an import is about to replace, before it does.
 * @param writes a query of `key` and `before` of every row that will be written, `before` null for new ones
 */
export async function recordImages(sql: Sql, importId: string, table: ImagedTable, writes: string): Promise<void> {
  await sql.text(
    `insert into import_images (import_id, "table", key, before) select $1::uuid, $2::text, key, before from (${writes}) w`,
    [importId, table],
  );
}

/** Writes down that an import made an underlying. */
export async function recordNewUnderlying(sql: Sql, importId: string, id: number): Promise<void> {
  await sql`
    insert into import_images (import_id, "table", key, before) values (${importId}, 'underlyings', ${JSON.stringify({ id })}::text::jsonb, null)`;
}

/** Counts the bytes of an import's images, and drops those of the oldest imports beyond what is kept. */
export async function trimImages(sql: Sql, importId: string): Promise<void> {
  await sql`
    update imports set image_bytes = (
      select coalesce(sum(pg_column_size(i.*)), 0) from import_images i where i.import_id = ${importId}
    ) where id = ${importId}`;
  const dropped = await sql<{ id: string }[]>`
    update imports set undo = 'dropped', image_bytes = 0 where id in (
      select id from (
        select id, row_number() over newest as place, sum(image_bytes) over newest as bytes
        from imports where undo = 'possible' window newest as (order by sequence desc)
      ) kept where place > ${MOST_IMPORTS} or (bytes > ${MOST_BYTES} and place > 1)
    ) returning id`;
  if (dropped.length > 0)
    await sql`delete from import_images where import_id = any(${dropped.map((d) => d.id)}::uuid[])`;
}

export interface Undone {
  /** Rows that are again as they were, or gone */
  restored: number;
  /** Rows that a later import or the user changed, which stay */
  kept: number;
  /** Instants whose quotes changed */
  instants: { underlyingId: number; instant: Date }[];
  /** Symbols that the import made and of which nothing is left */
  removed: string[];
}

/**
 * Takes back what an import wrote, in a transaction of the caller's: rows that are still as it left them become what they were.
 * What later imports replaced of it is rewritten in their images, so that taking those back does not bring it up again.
 */
export async function undoImages(sql: Sql, importId: string): Promise<Undone> {
  let restored = 0;
  let kept = 0;
  const instants: Undone['instants'] = [];
  for (const table of TABLES) {
    const [{ images }] = await sql<{ images: number }[]>`
      select count(*)::int as images from import_images where import_id = ${importId} and "table" = ${table}`;
    if (images === 0) continue;
    await sql`
      update import_images later set before = own.before from import_images own
      where own.import_id = ${importId} and own."table" = ${table} and later.import_id <> ${importId} and later."table" = ${table}
        and later.key = own.key and later.before ->> 'import_id' = ${importId}`;
    const isSlices = table === 'slices';
    const gone = await sql.text<{ underlyingId: number; instant: string }[]>(
      `with gone as (
         delete from ${table} t using import_images i cross join lateral jsonb_populate_record(null::${table}, i.key) k
         where i.import_id = $1::uuid and i."table" = '${table}' and t.import_id = $1::uuid
           and ${KEYS[table].map((column) => `t.${column} = k.${column}`).join(' and ')}
         returning i.before, ${isSlices ? 't.underlying_id, t.instant' : '0 as underlying_id, null as instant'}
       ), back as (
         insert into ${table} select (jsonb_populate_record(null::${table}, before)).* from gone where before is not null
       )
       select underlying_id as "underlyingId", instant from gone`,
      [importId],
    );
    restored += gone.length;
    kept += images - gone.length;
    if (!isSlices) continue;
    const touched = new Map(gone.map((g) => [`${g.underlyingId} ${g.instant}`, g]));
    for (const { underlyingId, instant } of touched.values())
      instants.push({ underlyingId, instant: new Date(instant) });
  }
  const removed = await removeEmptied(sql, importId);
  await sql`delete from import_images where import_id = ${importId}`;
  await sql`update imports set undo = 'undone', image_bytes = 0 where id = ${importId}`;
  return { restored, kept, instants, removed };
}

/** Takes out underlyings that an import made and of which nothing is stored any more. */
async function removeEmptied(sql: Sql, importId: string): Promise<string[]> {
  const owned = ['slices', 'daily_bars', 'intraday_bars', 'splits', 'events', 'dividends', 'futures_curves'];
  const rows = await sql.text<{ symbol: string }[]>(
    `delete from underlyings u using import_images i
     where i.import_id = $1::uuid and i."table" = 'underlyings' and u.id = (i.key ->> 'id')::int
       and ${owned.map((table) => `not exists (select from ${table} o where o.underlying_id = u.id)`).join(' and ')}
     returning u.symbol`,
    [importId],
  );
  return rows.map((r) => r.symbol);
}
