import type { ListedSpread, TradePrint } from '@umwelt/market/quote-source';
import { and, asc, desc, eq, gt, gte, lte, max } from 'drizzle-orm';
import type { ClientBase } from 'pg';
import { copyRows } from '../database/binary-copy.ts';
import type { Database, Transaction } from '../database/connect.ts';
import { listedSpreads, type RowSource, trades } from '../database/schema.ts';

export type StoredTrade = Omit<TradePrint, 'instant'> & { underlyingId: number; instant: Date; source: RowSource };
export type StoredSpread = ListedSpread & {
  underlyingId: number;
  instant: Date;
  position: number;
  source: RowSource;
};

/** Loads prints by COPY. */
export async function copyTrades(client: ClientBase, rows: readonly StoredTrade[]): Promise<void> {
  await copyRows(
    client,
    'trades (underlying_id, instant, legs, price, size, bid, ask, source)',
    rows.map((r) => [
      { type: 'int4', value: r.underlyingId } as const,
      { type: 'timestamptz', value: r.instant } as const,
      { type: 'jsonb', value: r.legs } as const,
      ...([r.price, r.size, r.bid, r.ask].map((value) => ({ type: 'float8', value })) as {
        type: 'float8';
        value: number;
      }[]),
      { type: 'text', value: r.source } as const,
    ]),
  );
}

/** Loads listed spreads by COPY. */
export async function copySpreads(client: ClientBase, rows: readonly StoredSpread[]): Promise<void> {
  await copyRows(
    client,
    'listed_spreads (underlying_id, instant, position, kind, legs, bid, ask, bid_size, ask_size, source)',
    rows.map((r) => [
      { type: 'int4', value: r.underlyingId } as const,
      { type: 'timestamptz', value: r.instant } as const,
      { type: 'int4', value: r.position } as const,
      { type: 'text', value: r.kind } as const,
      { type: 'jsonb', value: r.legs } as const,
      ...([r.bid, r.ask, r.bidSize, r.askSize].map((value) => ({ type: 'float8', value })) as {
        type: 'float8';
        value: number;
      }[]),
      { type: 'text', value: r.source } as const,
    ]),
  );
}

/** Takes out the demo's prints of an underlying after one instant up to another, and its listed spreads between them, both included. */
export async function deleteTraded(
  database: Database | Transaction,
  underlyingId: number,
  o: { after: Date; from: Date; to: Date },
): Promise<void> {
  await database
    .delete(trades)
    .where(
      and(
        eq(trades.underlyingId, underlyingId),
        eq(trades.source, 'demo'),
        gt(trades.instant, o.after),
        lte(trades.instant, o.to),
      ),
    );
  await database
    .delete(listedSpreads)
    .where(
      and(
        eq(listedSpreads.underlyingId, underlyingId),
        eq(listedSpreads.source, 'demo'),
        gte(listedSpreads.instant, o.from),
        lte(listedSpreads.instant, o.to),
      ),
    );
}

/** Prints of an underlying between two instants, latest first. */
export function tradesBetween(
  database: Database | Transaction,
  underlyingId: number,
  o: { from: Date; to: Date; limit: number },
): Promise<StoredTrade[]> {
  return database
    .select()
    .from(trades)
    .where(and(eq(trades.underlyingId, underlyingId), gte(trades.instant, o.from), lte(trades.instant, o.to)))
    .orderBy(desc(trades.instant))
    .limit(o.limit);
}

/** Listed spreads of the latest stored instant within bounds. */
export async function spreadsWithin(
  database: Database | Transaction,
  underlyingId: number,
  o: { from: Date; to: Date },
): Promise<StoredSpread[]> {
  const within = and(
    eq(listedSpreads.underlyingId, underlyingId),
    gte(listedSpreads.instant, o.from),
    lte(listedSpreads.instant, o.to),
  );
  const [{ instant }] = await database
    .select({ instant: max(listedSpreads.instant) })
    .from(listedSpreads)
    .where(within);
  if (!instant) return [];
  return database
    .select()
    .from(listedSpreads)
    .where(and(eq(listedSpreads.underlyingId, underlyingId), eq(listedSpreads.instant, instant)))
    .orderBy(asc(listedSpreads.position));
}
