import type { QuoteSource, QuoteWave } from '@umwelt/market/quote-source';
import { dateText } from '@umwelt/market/veldmar';
import type { Connection, Session } from '../database/connect.ts';
import { upsertBars } from '../repositories/daily-bars.ts';
import { beatFeed, holdFeed, updateFeed, watchedSymbols } from '../repositories/feed.ts';
import { upsertFuturesCurves } from '../repositories/futures-curves.ts';
import {
  copySlices,
  deleteDemoSlices,
  ensurePartitions,
  replaceLiveSlices,
  type StoredSlice,
  userSlices,
} from '../repositories/slices.ts';
import { listUnderlyings, type StoredUnderlying } from '../repositories/underlyings.ts';
import { deriveMeasures } from '../services/measure-history.ts';

/** A browser renews its wish within this time. */
const WATCH_SECONDS = 15;
const WAVE_MILLISECONDS = 1000;
const IDLE_MILLISECONDS = 200;
const MINUTE = 60_000;

/** What the feed drives: a quote source that can also quote without moving on. */
export interface DrivenSource extends QuoteSource {
  current(symbols: readonly string[]): QuoteWave;
  bars(): QuoteWave['closedBars'];
}

/**
 * Drives the quote source: about a wave a second while it runs, one for each step asked for while paused. Newest chains go
 * to `live_slices`, and a notice to whoever serves browsers; every so many minutes of market time the chains looked at are
 * stored for good. Everything of a wave is one transaction, so a feed that dies between leaves nothing half done.
 */
export async function runFeed(connection: Connection, source: DrivenSource, signal: AbortSignal): Promise<void> {
  const { database } = connection;
  const quotedAt = new Map<string, number>();
  let underlyings = new Map<string, StoredUnderlying>();
  while (!signal.aborted) {
    const started = Date.now();
    const watched = await watchedSymbols(database, WATCH_SECONDS);
    if (watched.some((symbol) => !underlyings.has(symbol))) {
      underlyings = new Map((await listUnderlyings(database)).map((u) => [u.symbol, u]));
    }
    const known = watched.filter((symbol) => underlyings.get(symbol)?.source === 'demo');
    const row = await connection.transaction(async (session) => {
      // Held until the wave is there: whoever pauses is answered after it, and none follows.
      const held = await holdFeed(session.database);
      if (!held) throw new Error('the feed has no row');
      const isMoving = held.isRunning || held.stepsWanted > 0;
      const wanted = isMoving ? known : known.filter((symbol) => quotedAt.get(symbol) !== held.sequence);
      if (isMoving || wanted.length > 0) {
        const wave = isMoving ? await source.next(held.speed, wanted) : source.current(wanted);
        await publish(connection, source, { session, wave, underlyings, row: held, isMoving });
        for (const symbol of wanted) quotedAt.set(symbol, wave.sequence);
      }
      return held;
    });
    await beatFeed(database, row.stepsWanted > 0 && !row.isRunning ? 1 : 0);
    const left = (row.isRunning ? WAVE_MILLISECONDS : IDLE_MILLISECONDS) - (Date.now() - started);
    await new Promise((resolve) => setTimeout(resolve, Math.max(20, left)));
  }
}

async function publish(
  connection: Connection,
  source: DrivenSource,
  o: {
    /** Of the wave's transaction */
    session: Session;
    wave: QuoteWave;
    underlyings: Map<string, StoredUnderlying>;
    row: { storeMinutes: number; storedAt: Date | null; instant: Date };
    isMoving: boolean;
  },
): Promise<void> {
  const { session, wave, underlyings, row } = o;
  const { database } = session;
  const instant = new Date(wave.instant);
  const chains = wave.chains.flatMap(({ symbol, slices }) => {
    const underlying = underlyings.get(symbol);
    if (!underlying) return [];
    const rows = slices.map(({ expiry, ...columns }): StoredSlice => ({
      ...columns,
      underlyingId: underlying.id,
      instant,
      expiry: new Date(expiry),
    }));
    return [{ underlying, rows }];
  });
  const stores = o.isMoving && crossesMark(row, wave.instant);
  if (stores) await ensurePartitions(connection.sql, [instant]);
  for (const { underlying, rows } of chains) await replaceLiveSlices(session, underlying.id, rows);
  await upsertFuturesCurves(
    database,
    wave.futuresCurves.flatMap(({ symbol, deliveries, prices }) => {
      const id = underlyings.get(symbol)?.id;
      return id === undefined || !stores
        ? []
        : [{ underlyingId: id, instant, deliveries: deliveries.map(dateText), prices, source: 'demo' as const }];
    }),
  );
  if (stores) {
    for (const { underlying, rows } of chains) {
      await deleteDemoSlices(database, underlying.id, instant, instant);
      const users = await userSlices(database, underlying.id, instant, instant);
      const taken = new Set(users.map((u) => +u.expiry));
      await copySlices(
        session.client,
        rows.filter((r) => !taken.has(+r.expiry)),
        'demo',
      );
      await deriveMeasures(database, underlying, instant);
    }
  }
  const bars = [...wave.closedBars, ...(stores ? source.bars() : [])];
  await upsertBars(
    database,
    bars.flatMap(({ symbol, date, ...bar }) => {
      const id = underlyings.get(symbol)?.id;
      return id === undefined ? [] : [{ ...bar, underlyingId: id, session: date, source: 'demo' as const }];
    }),
  );
  await updateFeed(database, {
    sequence: wave.sequence,
    instant,
    prices: wave.prices,
    state: source.state(),
    ...(stores ? { storedAt: instant } : {}),
  });
  const notice = JSON.stringify({ sequence: wave.sequence, symbols: wave.chains.map((c) => c.symbol) });
  await session.sql`select pg_notify('feed', ${notice})`;
}

/** Whether market time has passed a mark of the storing interval since the last wave. */
function crossesMark(row: { storeMinutes: number; instant: Date }, now: number): boolean {
  if (row.storeMinutes <= 0) return false;
  const span = row.storeMinutes * MINUTE;
  return Math.floor(now / span) > Math.floor(row.instant.getTime() / span);
}
