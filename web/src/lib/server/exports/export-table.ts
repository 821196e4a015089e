import { writeCalendar } from '@umwelt/market/calendar-file';
import { rowGroups, writeParquet, writeTable } from '@umwelt/market/table-file';
import type { TableKind, TableRecord } from '@umwelt/market/table-format';
import { symbolPart } from '@umwelt/market/symbol';
import { isoInZone } from '@umwelt/market/zone';
import type { TableExport } from '../../api/table-export.ts';
import { compute } from '../derive/pool.ts';
import type { Database } from '../database/connect.ts';
import { barsOf } from '../repositories/daily-bars.ts';
import { dividendsOf } from '../repositories/dividends.ts';
import { eventsOf } from '../repositories/events.ts';
import { intradayBarsOf } from '../repositories/intraday-bars.ts';
import { splitsOf } from '../repositories/splits.ts';
import { curvesOf } from '../repositories/rate-curves.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { exportChain } from './export-chain.ts';

export type TableFile =
  | { ok: true; fileName: string; bytes: AsyncGenerator<Uint8Array> }
  | { ok: false; reason: 'no-underlying' | 'no-quotes' | 'nothing-stored' | 'not-a-calendar' };

/** A stored table of an underlying, or of a currency for rates, as a file that imports again. */
export async function exportTable(
  database: Database,
  table: TableKind,
  symbol: string,
  o: TableExport,
): Promise<TableFile> {
  const { format } = o;
  if (format === 'ics') {
    if (table !== 'events') return { ok: false, reason: 'not-a-calendar' };
    return calendarFile(database, symbol);
  }
  if (table === 'chains') return exportChain(database, symbol, { ...o, format });
  const records = await recordsOf(database, table, symbol);
  if (!records) return { ok: false, reason: 'no-underlying' };
  if (records.length === 0) return { ok: false, reason: 'nothing-stored' };
  const bytes =
    format === 'parquet'
      ? writeParquet(table, rowGroups([records]), (group, start) =>
          compute('tableGroup', { kind: table, records: group, start }, { lane: 'export', isLong: true }),
        )
      : writeTable(table, pieces(records), format);
  return { ok: true, fileName: `${symbolPart(symbol)}-${table}.${format}`, bytes };
}

/** Rows a few at a time, so that writing them lets others in between. */
function* pieces(records: TableRecord[]): Generator<TableRecord[]> {
  const PIECE = 1000;
  for (let i = 0; i < records.length; i += PIECE) yield records.slice(i, i + PIECE);
}

async function recordsOf(
  database: Database,
  table: Exclude<TableKind, 'chains'>,
  symbol: string,
): Promise<TableRecord[] | undefined> {
  if (table === 'rates') {
    const curves = await curvesOf(database, symbol);
    return curves.flatMap(({ session, days, rates }) =>
      days.map((d, i) => ({ currency: symbol, session, days: d, rate: rates[i] })),
    );
  }
  const underlying = await findUnderlying(database, symbol);
  if (!underlying) return undefined;
  const iso = (at: Date) => isoInZone(at.getTime(), underlying.zone);
  switch (table) {
    case 'bars':
      return (await barsOf(database, underlying.id)).map(({ underlyingId: _id, ...bar }) => ({
        underlying: symbol,
        ...bar,
      }));
    case 'intraday-bars':
      return (await intradayBarsOf(database, underlying.id)).map(({ underlyingId: _id, instant, ...bar }) => ({
        underlying: symbol,
        bar_end: iso(instant),
        ...bar,
      }));
    case 'splits':
      return (await splitsOf(database, underlying.id)).map(({ session, ratio }) => ({
        underlying: symbol,
        session,
        ratio,
      }));
    case 'dividends':
      return (await dividendsOf(database, underlying.id)).map((d) => ({
        underlying: symbol,
        ex_date: d.exDate,
        instant: iso(d.instant),
        amount: d.amount,
      }));
    case 'events':
      return (await eventsOf(database, underlying.id)).map((e) => ({
        underlying: symbol,
        instant: iso(e.instant),
        kind: e.kind,
        label: e.label,
      }));
  }
}

async function calendarFile(database: Database, symbol: string): Promise<TableFile> {
  const underlying = await findUnderlying(database, symbol);
  if (!underlying) return { ok: false, reason: 'no-underlying' };
  const events = await eventsOf(database, underlying.id);
  if (events.length === 0) return { ok: false, reason: 'nothing-stored' };
  const text = writeCalendar(
    events.map(({ instant, kind, label }) => ({ underlying: symbol, instant: instant.getTime(), kind, label })),
    // The same events give the same file.
    events[0].instant.getTime(),
  );
  async function* bytes() {
    yield await Promise.resolve(new TextEncoder().encode(text));
  }
  return { ok: true, fileName: `${symbolPart(symbol)}-events.ics`, bytes: bytes() };
}
