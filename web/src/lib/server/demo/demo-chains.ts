import {
  CURRENCIES,
  curveOn,
  dateText,
  dayOf,
  dividendsOf,
  intradayDays,
  keptDays,
  keptInstants,
  type Listed,
  SCHEDULED_EVENTS,
  sessionClose,
  sessionInstant,
  sessionOpen,
  type SimulatedSlice,
  SPLITS,
  TODAY,
  TODAY_DAY,
  UNIVERSE,
} from '@umwelt/market/veldmar';
import { type Connection, onTransaction } from '../database/connect.ts';
import { type StoredFuturesCurve, upsertFuturesCurves } from '../repositories/futures-curves.ts';
import { type StoredMeasures, upsertMeasures } from '../repositories/measures.ts';
import {
  copySlices,
  deleteDemoSlices,
  ensurePartitions,
  type StoredSlice,
  userSlices,
} from '../repositories/slices.ts';
import { copySpreads, copyTrades, deleteTraded, type StoredSpread, type StoredTrade } from '../repositories/trades.ts';
import { findUnderlying, type StoredUnderlying } from '../repositories/underlyings.ts';
import type { Carry } from '../derive/derive-stored.ts';
import { instantMeasures } from '../derive/instant-measures.ts';
import { deriveMeasures } from '../services/measure-history.ts';
import { BARS_NEEDED } from '../derive/measures-of.ts';
import { sessionBars } from '../derive/session-bars.ts';
import { demoMarket } from './demo-base.ts';

/** Sessions of one underlying, from one day to another, both included (days since 1970). */
export interface DemoRange {
  symbol: string;
  from: number;
  to: number;
}

/** Called between sessions with the share done; throws to stop. */
export type Tick = (share: number) => Promise<void>;

function listedOf(symbol: string): Listed {
  const listed = UNIVERSE.find((u) => u.symbol === symbol);
  if (!listed) throw new Error(`${symbol} is not listed`);
  return listed;
}

/**
 * Simulates, stores and derives the kept chains of a range in one transaction. Running it again replaces what it stored,
 * so that a job may run twice.
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
    measures.push(derive(listed, chain));
    const curve = demoMarket().futuresCurve(range.symbol, instant, dayOf(instant));
    if (curve) {
      const deliveries = curve.deliveries.map(dateText);
      curves.push({ underlyingId: stored.id, instant: dates[i], deliveries, prices: curve.prices, source: 'demo' });
    }
    await tick((i + 1) / instants.length);
  }
  await ensurePartitions(connection.sql, dates);
  await connection.sql.begin(async (sql) => {
    const database = onTransaction(sql, connection.sql);
    // The job's end, which does wait for the disk, brings everything before it there.
    await sql`set local synchronous_commit = off`;
    // Two workers on the same range, one of them given up for dead, take turns.
    await sql`select pg_advisory_xact_lock(${stored.id}, ${range.from})`;
    const [from, to] = [dates[0], dates[dates.length - 1]];
    await deleteDemoSlices(database, stored.id, from, to);
    const after = instants.length > 1 ? new Date(sessionOpen(range.from)) : from;
    await deleteTraded(database, stored.id, { after, from, to });
    await copySpreads(sql, spreads);
    await copyTrades(sql, tape);
    const users = await userSlices(database, stored.id, from, to);
    const taken = new Set(users.map(({ instant, expiry }) => `${+instant} ${+expiry}`));
    const own = rows.filter((row) => !taken.has(`${+row.instant} ${+row.expiry}`));
    await copySlices(sql, own, 'demo');
    await upsertMeasures(database, measures);
    await upsertFuturesCurves(database, curves);
    // Where users own a part of an instant, its figures are of what is stored, not of what was simulated.
    const mixed = new Map(users.map(({ instant }) => [+instant, instant]));
    for (const instant of mixed.values()) await deriveMeasures(database, stored, instant);
  });
}

/** Measures of sessions whose chains are not kept: simulated, derived, dropped. */
export async function storeDemoMeasures(
  connection: Connection,
  range: DemoRange & { ofAll?: boolean },
  tick: Tick,
): Promise<void> {
  const listed = listedOf(range.symbol);
  const stored = await demoUnderlying(connection, range.symbol);
  if (!stored) return;
  const kept = new Set(range.ofAll ? [] : keptDays(range.symbol));
  const days = demoMarket().history.sessions.filter((d) => d >= range.from && d <= range.to && !kept.has(d));
  const measures: StoredMeasures[] = [];
  for (const [i, day] of days.entries()) {
    measures.push(derive(listed, simulatedRows(stored.id, range.symbol, sessionInstant(day))));
    await tick((i + 1) / days.length);
  }
  await upsertMeasures(connection.database, measures);
}

function simulatedRows(underlyingId: number, symbol: string, instant: number): StoredSlice[] {
  return demoMarket()
    .slices(symbol, instant)
    .map((slice) => storedSlice(underlyingId, slice));
}

/** A simulated slice as it is stored: without what only the simulator knows. */
export function storedSlice(underlyingId: number, slice: SimulatedSlice): StoredSlice {
  const { symbol: _symbol, truth: _truth, instant, expiry, ...columns } = slice;
  return { ...columns, underlyingId, instant: new Date(instant), expiry: new Date(expiry) };
}

function derive(listed: Listed, rows: StoredSlice[]): StoredMeasures {
  const { instant } = rows[0];
  const day = dayOf(instant.getTime());
  const carry: Carry = {
    curve: curveOn(listed.currency, day),
    // Of what is published: the auk's curve is not.
    foreignCurve: CURRENCIES.includes(listed.foreignCurrency ?? '')
      ? curveOn(listed.foreignCurrency as string, day)
      : undefined,
    dividends: dividendsOf(listed).map((d) => ({ instant: new Date(d.instant), amount: d.amount })),
    isFuture: listed.model === 'futures',
    exercise: listed.exercise,
  };
  const last = rows[rows.length - 1].expiry.getTime();
  const events = SCHEDULED_EVENTS.filter(
    (e) => listed.symbol in e.moves && e.instant > instant.getTime() && e.instant <= last,
  ).map((e) => ({ instant: new Date(e.instant), kind: e.kind }));
  const date = dateText(day);
  const isOver = instant.getTime() >= sessionClose(day);
  const bars = barsOf(listed.symbol)
    .filter((b) => b.date < date || (isOver && b.date === date))
    .slice(-BARS_NEEDED)
    .map(({ date: session, ...bar }) => ({ ...bar, session }));
  const ended = sessionBars({
    bars,
    dividends: dividendsOf(listed),
    splits: SPLITS.filter((s) => s.symbol === listed.symbol),
  });
  return instantMeasures({ rows, carry, events, ended, source: 'demo' });
}

const bars = new Map<string, ReturnType<ReturnType<typeof demoMarket>['bars']>>();

function barsOf(symbol: string) {
  let known = bars.get(symbol);
  if (!known) bars.set(symbol, (known = demoMarket().bars(symbol)));
  return known;
}
