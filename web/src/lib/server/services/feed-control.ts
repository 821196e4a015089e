import { isoInZone, VELDMAR_ZONE } from '@umwelt/market/zone';
import type { FeedCommand, FeedStatus } from '../../api/live.ts';
import type { Database } from '../database/connect.ts';
import { readFeed, updateFeed, wantStep } from '../repositories/feed.ts';

/** Tells the feed what to do; undefined when none has ever run. */
export async function commandFeed(database: Database, command: FeedCommand): Promise<FeedStatus | undefined> {
  const { action, speed, storeMinutes } = command;
  const change = {
    ...(action === 'start' ? { isRunning: true } : {}),
    ...(action === 'pause' || action === 'step' ? { isRunning: false } : {}),
    ...(speed === undefined ? {} : { speed }),
    ...(storeMinutes === undefined ? {} : { storeMinutes }),
  };
  if (Object.keys(change).length > 0) await updateFeed(database, change);
  if (action === 'step') await wantStep(database);
  return feedState(database);
}

/** State of the feed; undefined when none has ever run. */
export async function feedState(database: Database): Promise<FeedStatus | undefined> {
  const row = await readFeed(database);
  return row && feedStatusOf(row);
}

/** A feed without a sign of life for this long counts as stopped. */
const FEED_LOST_SECONDS = 4;

/** A feed's row as browsers hear of it. */
export function feedStatusOf(row: NonNullable<Awaited<ReturnType<typeof readFeed>>>): FeedStatus {
  const isAlive = row.beatAge !== null && row.beatAge < FEED_LOST_SECONDS;
  const iso = (at: Date | null) => (at ? isoInZone(at.getTime(), VELDMAR_ZONE) : null);
  return {
    state: isAlive ? (row.isRunning ? 'running' : 'paused') : 'stopped',
    isToRun: row.isRunning,
    speed: row.speed,
    storeMinutes: row.storeMinutes,
    sequence: row.sequence,
    instant: iso(row.instant),
    storedAt: iso(row.storedAt),
    prices: row.prices,
  };
}
