import { writeChain, type WrittenQuote } from '@umwelt/market/chain-file';
import type { TableFormat } from '@umwelt/market/table-format';
import type { TableExport } from '../../schema/table-export.ts';
import type { Database } from '../database/connect.ts';
import { instantsAround, slicesAt, storedInstants, type StoredSlice } from '../repositories/slices.ts';
import { findUnderlying } from '../repositories/underlyings.ts';

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
  const around = await instantsAround(
    database,
    underlying.id,
    o.asOf === undefined ? undefined : new Date(o.asOf),
    underlying.zone,
  );
  if (!around) return { ok: false, reason: 'no-quotes' };
  const instants = o.scope === 'all' ? await storedInstants(database, underlying.id) : [around.instant];
  async function* slices(id: number): AsyncGenerator<WrittenQuote[]> {
    for (const instant of instants) {
      for (const slice of await slicesAt(database, id, instant)) yield quotesOf(symbol, slice);
    }
  }
  const moment = o.scope === 'all' ? 'all' : around.instant.toISOString().slice(0, 16).replace(':', '');
  return {
    ok: true,
    fileName: `${symbol}-${moment}.${o.format}`,
    bytes: writeChain(slices(underlying.id), { format: o.format, zone: underlying.zone }),
  };
}

function quotesOf(underlying: string, slice: StoredSlice): WrittenQuote[] {
  return Array.from(slice.strikes).flatMap((strike, i) =>
    (['call', 'put'] as const).map((side) => ({
      underlying,
      asOf: slice.instant.getTime(),
      underlyingPrice: slice.underlyingPrice,
      expiry: slice.expiry.getTime(),
      side,
      strike,
      bid: slice[`${side}Bid`][i],
      ask: slice[`${side}Ask`][i],
      bidSize: slice[`${side}BidSize`][i],
      askSize: slice[`${side}AskSize`][i],
      last: slice[`${side}Last`][i],
      volume: slice[`${side}Volume`][i],
      openInterest: slice[`${side}OpenInterest`][i],
    })),
  );
}
