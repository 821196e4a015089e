import { DEMO_SEED, LiveMarket, liveMarketState } from '@umwelt/market/veldmar';
import { connect } from '../src/lib/server/database/connect.ts';
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

async function drive(connection: ReturnType<typeof connect>): Promise<void> {
  // The lock lives as long as its connection, so a killed feed frees it at once.
  const holder = await connection.sql.reserve();
  const signs = giveSignsOfLife(connection, 'feed');
  try {
    const [{ isHeld }] = await holder<{ isHeld: boolean }[]>`
      select pg_try_advisory_lock(hashtext('umwelt feed')) as "isHeld"`;
    if (!isHeld) return;
    if (!(await readFeed(connection.database))) {
      const state = LiveMarket.startingState(demoMarket().history);
      const { sequence, instant, prices } = new LiveMarket(DEMO_SEED, state).current([]);
      await insertFeed(connection.database, { sequence, instant: new Date(instant), prices, state });
    }
    const row = await readFeed(connection.database);
    await runFeed(connection, new LiveMarket(DEMO_SEED, liveMarketState.parse(row?.state)), stop.signal);
  } finally {
    await signs.stop();
    holder.release();
  }
}
