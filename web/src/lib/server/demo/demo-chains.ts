import {
  dateText,
  dayOf,
  intradayDays,
  keptDays,
  keptInstants,
  sessionOpen,
  type SimulatedSlice,
  TODAY,
  TODAY_DAY,
} from '@umwelt/market/veldmar';
import type { Connection } from '../database/connect.ts';
import { type StoredFuturesCurve, upsertFuturesCurves } from '../repositories/futures-curves.ts';
import { insertMeasures, type StoredMeasures, upsertMeasures } from '../repositories/measures.ts';
import {
  copySlices,
  deleteDemoSlices,
  ensurePartitions,
  type StoredSlice,
  userSlices,
} from '../repositories/slices.ts';
import { copySpreads, copyTrades, deleteTraded, type StoredSpread, type StoredTrade } from '../repositories/trades.ts';
import { findUnderlying, type StoredUnderlying } from '../repositories/underlyings.ts';
import { deriveMeasures } from '../services/measure-history.ts';
import { demoMarket } from './demo-base.ts';
import { readShipped } from './shipped-measures.ts';
import { pastInstants, listedOf, measuresOfSimulated, simulatedMeasures, storedSlice } from './simulated-measures.ts';

/** Sessions of one underlying, from one day to another, both included (days since 1970). */
export interface DemoRange {
  symbol: string;
  from: number;
  to: number;
}

/** Called between sessions with the share done; throws to stop. */
export type Tick = (share: number) => Promise<void>;

/**
 * Simulates and stores the kept chains of a range with their measures in one transaction. Running it again replaces what it
 * stored, so that a job may run twice.
 */
export async function storeDemoChains(connection: Connection, range: DemoRange, tick: Tick): Promise<void> {
  const days = keptDays(range.symbol).filter((day) => day >= range.from && day <= range.to);
  await storeInstants(
    connection,
    range,
    days.flatMap((day) => keptInstants(range.symbol, day)),
    tick,
  );
}

/** Today's chain alone, without the quarters of an hour before it. */
export async function storeDemoToday(connection: Connection, symbol: string): Promise<void> {
  await storeInstants(connection, { symbol, from: TODAY_DAY, to: TODAY_DAY }, [TODAY], () => Promise.resolve());
}

/** The demo's underlying of a symbol; undefined when the demo was taken out meanwhile, or the symbol is a user's own. */
async function demoUnderlying({ database }: Connection, symbol: string): Promise<StoredUnderlying | undefined> {
  const stored = await findUnderlying(database, symbol);
  return stored?.source === 'demo' ? stored : undefined;
}

async function storeInstants(connection: Connection, range: DemoRange, instants: number[], tick: Tick): Promise<void> {
  const listed = listedOf(range.symbol);
  if (instants.length === 0) return;
  const dates = instants.map((at) => new Date(at));
  const stored = await demoUnderlying(connection, range.symbol);
  if (!stored) return;
  const rows: StoredSlice[] = [];
  const measures: StoredMeasures[] = [];
  const curves: StoredFuturesCurve[] = [];
  const tape: StoredTrade[] = [];
  const spreads: StoredSpread[] = [];
  const shipped = range.from < TODAY_DAY ? shippedOf(range.symbol, stored.id) : undefined;
  const sessionsWithTape = new Set(intradayDays(range.symbol));
  let before: SimulatedSlice[] = [];
  for (const [i, instant] of instants.entries()) {
    const slices = demoMarket().slices(range.symbol, instant);
    const chain = slices.map((slice) => storedSlice(stored.id, slice));
    const hasTape = sessionsWithTape.has(dayOf(instant));
    if (before.length > 0 && dayOf(before[0].instant) !== dayOf(instant)) before = [];
    if (hasTape || instant === TODAY) {
      const listedNow = demoMarket().spreads(range.symbol, slices);
      spreads.push(
        ...listedNow.map((s, n) => ({
          ...s,
          underlyingId: stored.id,
          instant: dates[i],
          position: n,
          source: 'demo' as const,
        })),
      );
    }
    // Today's chain alone has no chain before it to tell when its contracts traded.
    if (hasTape && instants.length > 1) {
      const prints = demoMarket().trades(range.symbol, before, slices);
      tape.push(
        ...prints.map((p) => ({
          ...p,
          underlyingId: stored.id,
          instant: new Date(p.instant),
          source: 'demo' as const,
        })),
      );
    }
    before = slices;
    rows.push(...chain);
    measures.push(shipped?.get(instant) ?? measuresOfSimulated(listed, chain));
    const curve = demoMarket().futuresCurve(range.symbol, instant, dayOf(instant));
    if (curve) {
      const deliveries = curve.deliveries.map(dateText);
      curves.push({ underlyingId: stored.id, instant: dates[i], deliveries, prices: curve.prices, source: 'demo' });
    }
    await tick((i + 1) / instants.length);
  }
  await ensurePartitions(connection.sql, dates);
  await connection.transaction(async ({ sql, database, client }) => {
    // The job's end, which does wait for the disk, brings everything before it there.
    await sql`set local synchronous_commit = off`;
    // Two workers on the same range, one of them given up for dead, take turns.
    await sql`select pg_advisory_xact_lock(${stored.id}, ${range.from})`;
    const [from, to] = [dates[0], dates[dates.length - 1]];
    await deleteDemoSlices(database, stored.id, from, to);
    const after = instants.length > 1 ? new Date(sessionOpen(range.from)) : from;
    await deleteTraded(database, stored.id, { after, from, to });
    await copySpreads(client, spreads);
    await copyTrades(client, tape);
    const users = await userSlices(database, stored.id, from, to);
    const taken = new Set(users.map(({ instant, expiry }) => `${+instant} ${+expiry}`));
    const own = rows.filter((row) => !taken.has(`${+row.instant} ${+row.expiry}`));
    await copySlices(client, own, 'demo');
    await upsertMeasures(database, measures);
    await upsertFuturesCurves(database, curves);
    // Where users own a part of an instant, its figures are of what is stored, not of what was simulated.
    const mixed = new Map(users.map(({ instant }) => [+instant, instant]));
    for (const instant of mixed.values()) await deriveMeasures(database, stored, instant);
  });
}

/**
 * Measures of all instants of a range before today, with the chains that are kept and without: those that come with the code,
 * or, where it has moved on since those were made, simulated, derived and dropped. What stands is of what is stored, and stays.
 */
export async function storeDemoMeasures(connection: Connection, range: DemoRange, tick: Tick): Promise<void> {
  const stored = await demoUnderlying(connection, range.symbol);
  if (!stored) return;
  const instants = pastInstants(range.symbol).filter((at) => dayOf(at) >= range.from && dayOf(at) <= range.to);
  const shipped = shippedOf(range.symbol, stored.id);
  const measures: StoredMeasures[] = [];
  for (const [i, instant] of instants.entries()) {
    measures.push(shipped?.get(instant) ?? simulatedMeasures(stored.id, range.symbol, instant));
    await tick((i + 1) / instants.length);
  }
  await insertMeasures(connection.database, measures);
}

let lastRead: { key: string; measures: ReturnType<typeof readShipped> } | undefined;

/** What comes with the code of an underlying; the last one read is kept. */
function shippedOf(symbol: string, id: number): ReturnType<typeof readShipped> {
  const key = `${symbol} ${id}`;
  if (lastRead?.key !== key) lastRead = { key, measures: readShipped(symbol, id) };
  return lastRead.measures;
}
