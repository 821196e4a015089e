import { DEMO_SEED, LiveMarket, liveMarketState } from '@umwelt/market/veldmar';
import { connect, type Connection, type Session } from '../src/lib/server/database/connect.ts';
import { runFeed } from '../src/lib/server/feed/run-feed.ts';
import { insertFeed, readFeed } from '../src/lib/server/repositories/feed.ts';
import { giveSignsOfLife } from '../src/lib/server/processes/sign-of-life.ts';
import { demoMarket } from '../src/lib/server/demo/demo-base.ts';
import { readEnvironment } from '../src/lib/server/processes/environment.ts';

/*
 * The feed: one process that drives the exchange simulator in place of a market data service. A second one waits until the
 * first is gone.
 */

const stop = new AbortController();
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => stop.abort());

while (!stop.signal.aborted) {
  // One holds the lock, one a wave's transaction, one is for partitions and signs of life.
  const connection = connect(readEnvironment().DATABASE_URL, { connections: 3 });
  try {
    await drive(connection);
  } catch (error) {
    // The database was away: taken up again from the stored state.
    console.error('feed', error instanceof Error ? error.message : error);
  } finally {
    await connection.close().catch(() => undefined);
  }
  if (!stop.signal.aborted) await new Promise((resolve) => setTimeout(resolve, 1000));
}

async function drive(connection: Connection): Promise<void> {
  const signs = giveSignsOfLife(connection, 'feed');
  try {
    // The lock lives as long as its connection, so a killed feed frees it at once.
    await connection.session(async (holder) => {
      const [{ isHeld }] = await holder.sql<{ isHeld: boolean }[]>`
        select pg_try_advisory_lock(hashtext('umwelt feed')) as "isHeld"`;
      if (isHeld) await driveAlone(connection, holder);
    });
  } finally {
    await signs.stop();
  }
}

/** @throws when the lock's connection is lost: another feed may hold it by then */
async function driveAlone(connection: Connection, holder: Session): Promise<void> {
  const lost = new AbortController();
  holder.client.once('end', () => lost.abort());
  if (!(await readFeed(connection.database))) {
    const state = LiveMarket.startingState(demoMarket().history);
    const { sequence, instant, prices } = new LiveMarket(DEMO_SEED, state).current([]);
    await insertFeed(connection.database, { sequence, instant: new Date(instant), prices, state });
  }
  const row = await readFeed(connection.database);
  const source = new LiveMarket(DEMO_SEED, liveMarketState.parse(row?.state));
  await runFeed(connection, source, AbortSignal.any([stop.signal, lost.signal]));
  await holder.sql`select pg_advisory_unlock(hashtext('umwelt feed'))`;
}
