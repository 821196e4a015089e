import { writeChain, type WrittenQuote } from '@umwelt/market/chain-file';
import { symbolPart } from '@umwelt/market/symbol';
import { ROWS_A_GROUP, writeParquet } from '@umwelt/market/table-file';
import type { TableFormat } from '@umwelt/market/table-format';
import type { TableExport } from '../../api/table-export.ts';
import { compute } from '../derive/pool.ts';
import type { Database } from '../database/connect.ts';
import { slicesAt, storedInstants, type StoredSlice } from '../repositories/slices.ts';
import { findUnderlying } from '../repositories/underlyings.ts';
import { quotesOf } from '../derive/quotes-of.ts';
import { momentAmong } from '../derive/moment.ts';

export type ChainExport =
  | { ok: true; fileName: string; bytes: AsyncGenerator<Uint8Array> }
  | { ok: false; reason: 'no-underlying' | 'no-quotes' };

/** The stored chains of an underlying as the text of a file, read and written one instant at a time. */
export async function exportChain(
  database: Database,
  symbol: string,
  o: Pick<TableExport, 'asOf' | 'scope'> & { format: TableFormat },
): Promise<ChainExport> {
  const underlying = await findUnderlying(database, symbol);
  if (!underlying) return { ok: false, reason: 'no-underlying' };
  const at = o.asOf === undefined ? undefined : new Date(o.asOf);
  const instantsStored = await storedInstants(database, underlying.id);
  const around = momentAmong(instantsStored, underlying.zone, at);
  if (!around) return { ok: false, reason: 'no-quotes' };
  const instants = o.scope === 'all' ? instantsStored : [around.instant];
  const { id, zone, symbol: name, kind, exercise, multiplier, currency } = underlying;
  const terms = { kind, exercise, multiplier, currency };
  async function* slices(): AsyncGenerator<WrittenQuote[]> {
    for (const instant of instants) {
      for (const slice of await slicesAt(database, id, instant)) yield quotesOf(name, slice);
    }
  }
  /** Slices of what is encoded at a time. */
  async function* groups(): AsyncGenerator<StoredSlice[]> {
    let [group, rows]: [StoredSlice[], number] = [[], 0];
    for (const instant of instants) {
      for (const slice of await slicesAt(database, id, instant)) {
        const own = 2 * slice.strikes.length;
        if (rows > 0 && rows + own > ROWS_A_GROUP) {
          yield group;
          [group, rows] = [[], 0];
        }
        group.push(slice);
        rows += own;
      }
    }
    if (rows > 0) yield group;
  }
  const parquet = () =>
    writeParquet('chains', groups(), (group, start) =>
      compute('chainGroup', { symbol: name, zone, terms, slices: group, start }, { lane: 'export', isLong: true }),
    );
  const moment = o.scope === 'all' ? 'all' : around.instant.toISOString().slice(0, 16).replace(':', '');
  return {
    ok: true,
    fileName: `${symbolPart(name)}-${moment}.${o.format}`,
    bytes: o.format === 'parquet' ? parquet() : writeChain(slices(), { format: o.format, zone, terms }),
  };
}
