import { createHash } from 'node:crypto';
import { type CalendarEvent, readCalendar } from '@umwelt/market/calendar-file';
import { readTable, type TableProblem, type TableResult } from '@umwelt/market/table-file';
import type { TableKind, TableRecord } from '@umwelt/market/table-format';
import { isoInZone } from '@umwelt/market/zone';
import type { TableImport } from '../../schema/table-export.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { upsertBars } from '../repositories/daily-bars.ts';
import { upsertDividends } from '../repositories/dividends.ts';
import { replaceEvents } from '../repositories/events.ts';
import { recordRefusal, recordTableImport } from '../repositories/imports.ts';
import { upsertCurves } from '../repositories/rate-curves.ts';
import { findUnderlying, insertUnderlying } from '../repositories/underlyings.ts';
import { clearPictures } from './picture.ts';

export type ImportedTable = Exclude<TableKind, 'chains'>;
export type TableImportOutcome =
  { ok: true; rows: number; underlyings: string[] } | { ok: false; problems: TableProblem[] };

/** Imports a table in one transaction, all or nothing; rows that are stored already are replaced. */
export async function importTable(
  database: Database,
  owner: string,
  table: ImportedTable,
  bytes: Uint8Array,
  o: TableImport,
): Promise<TableImportOutcome> {
  const read = await recordsFrom(table, bytes, o);
  const problems = read.ok ? doubles(table, read.records) : read.problems;
  if (!read.ok || problems.length > 0) {
    const message = `${problems.length} ${problems.length === 1 ? 'row is' : 'rows are'} wrong; nothing was stored`;
    await recordRefusal(database, { owner, fileName: o.fileName, table, refusal: { message, problems } });
    return { ok: false, problems };
  }
  const { records } = read;
  const underlyings = await database.transaction(async (transaction) => {
    const symbols = table === 'rates' ? [] : [...new Set(records.map((r) => String(r.underlying)))];
    const ids = new Map<string, number>();
    for (const symbol of symbols) ids.set(symbol, await underlyingId(transaction, symbol, o.zone));
    await store(transaction, table, records, ids);
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const { fileName, ...options } = o;
    await recordTableImport(transaction, { owner, fileName, table, sha256, options, rows: records.length });
    return symbols;
  });
  clearPictures();
  return { ok: true, rows: records.length, underlyings };
}

/** Columns that tell rows apart. */
const KEYS: Record<ImportedTable, string[]> = {
  bars: ['underlying', 'session'],
  rates: ['currency', 'session', 'days'],
  dividends: ['underlying', 'ex_date'],
  events: ['underlying', 'instant', 'kind', 'label'],
};

function doubles(table: ImportedTable, records: TableRecord[]): TableProblem[] {
  const first = new Map<string, number>();
  const problems: TableProblem[] = [];
  for (const [i, record] of records.entries()) {
    const key = KEYS[table].map((name) => record[name]).join('\t');
    const earlier = first.get(key);
    if (earlier === undefined) first.set(key, i + 1);
    else
      problems.push({
        row: i + 1,
        column: KEYS[table].join(', '),
        value: key,
        remedy: `the same as row ${earlier}; keep one`,
      });
  }
  return problems.slice(0, 200);
}

async function recordsFrom(table: ImportedTable, bytes: Uint8Array, o: TableImport): Promise<TableResult> {
  const typed: TableRecord = o.of === undefined ? {} : { [table === 'rates' ? 'currency' : 'underlying']: o.of };
  const isCalendar = table === 'events' && /^\s*BEGIN:VCALENDAR/i.test(new TextDecoder().decode(bytes.subarray(0, 64)));
  if (!isCalendar) return readTable(table, bytes, { typed, zone: o.zone });
  const read = readCalendar(new TextDecoder().decode(bytes), o.zone);
  if (!read.ok) {
    return { ok: false, problems: [{ row: 0, column: '', value: '', remedy: read.reason }] };
  }
  return { ok: true, records: read.events.map((e) => calendarRecord(e, o.zone)) };
}

function calendarRecord({ underlying, instant, kind, label }: CalendarEvent, zone: string): TableRecord {
  return { underlying, instant: isoInZone(instant, zone), kind, label };
}

/** Id of an underlying, made with plain terms when it is new. */
async function underlyingId(transaction: Transaction, symbol: string, zone: string): Promise<number> {
  const known = await findUnderlying(transaction, symbol);
  if (known) return known.id;
  return insertUnderlying(transaction, {
    symbol,
    name: symbol,
    sector: 'Imported',
    source: 'import',
    kind: 'index',
    exercise: 'european',
    model: 'spot',
    settlement: 'cash',
    multiplier: 100,
    currency: 'XTS',
    foreignCurrency: null,
    zone,
    optionTick: null,
    underlyingTick: null,
  });
}

async function store(
  transaction: Transaction,
  table: ImportedTable,
  records: readonly TableRecord[],
  ids: Map<string, number>,
): Promise<void> {
  const idOf = (record: TableRecord) => ids.get(String(record.underlying)) as number;
  const number = (record: TableRecord, name: string) => Number(record[name]);
  const text = (record: TableRecord, name: string) => String(record[name]);
  switch (table) {
    case 'bars':
      return upsertBars(
        transaction,
        records.map((r) => ({
          underlyingId: idOf(r),
          session: text(r, 'session'),
          open: number(r, 'open'),
          high: number(r, 'high'),
          low: number(r, 'low'),
          close: number(r, 'close'),
          volume: number(r, 'volume'),
          source: 'user' as const,
        })),
      );
    case 'rates':
      return upsertCurves(transaction, curvesFrom(records));
    case 'dividends':
      return upsertDividends(
        transaction,
        records.map((r) => ({
          underlyingId: idOf(r),
          exDate: text(r, 'ex_date'),
          instant: new Date(text(r, 'instant')),
          amount: number(r, 'amount'),
          source: 'user' as const,
        })),
      );
    case 'events':
      return replaceEvents(
        transaction,
        records.map((r) => ({
          underlyingId: idOf(r),
          instant: new Date(text(r, 'instant')),
          kind: text(r, 'kind'),
          label: text(r, 'label'),
          source: 'user' as const,
        })),
      );
  }
}

/** Rows of points gathered into curves, days ascending. */
function curvesFrom(records: readonly TableRecord[]) {
  const curves = new Map<string, { currency: string; session: string; points: [days: number, rate: number][] }>();
  for (const { currency, session, days, rate } of records) {
    const key = `${currency}\t${session}`;
    const curve = curves.get(key) ?? { currency: String(currency), session: String(session), points: [] };
    curve.points.push([Number(days), Number(rate)]);
    curves.set(key, curve);
  }
  return [...curves.values()].map(({ points, ...curve }) => {
    points.sort((a, b) => a[0] - b[0]);
    return { ...curve, days: points.map((p) => p[0]), rates: points.map((p) => p[1]), source: 'user' as const };
  });
}
