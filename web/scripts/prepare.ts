import { migrate } from 'drizzle-orm/postgres-js/migrator';
import { connect } from '../src/lib/server/database/connect.ts';
import { compactDataChanges } from '../src/lib/server/repositories/data-version.ts';
import { mendZones } from '../src/lib/server/services/mend-zones.ts';
import { openQueue } from '../src/lib/server/jobs/queue.ts';
import { LOCAL_OWNER, readEnvironment } from '../src/lib/server/processes/environment.ts';
import { migrationsFolder } from '../src/lib/server/services/readiness.ts';
import { prepareDemo } from '../src/lib/server/demo/prepare-demo.ts';
import { enqueueRebuild } from '../src/lib/server/services/enqueue-rebuild.ts';

/*
 * Brings the database up to date: `prepare.ts [--demo [--small] [--reset]] [--wait]`. The demo's today is stored here, the
 * rest by jobs, for whose chains `--wait` waits. A reset makes the demo anew; what users own stays.
 */

const url = readEnvironment().DATABASE_URL;
const connection = connect(url, { connections: 2 });
const { database, sql } = connection;

try {
  await migrate(database, { migrationsFolder: migrationsFolder() });
  await mendZones(database);
  await compactDataChanges(database);
  const boss = await openQueue(url);
  if (process.argv.includes('--demo'))
    await prepareDemo(connection, boss, {
      extent: process.argv.includes('--small') ? 'small' : 'whole',
      isReset: process.argv.includes('--reset'),
      tell: (line) => console.log(line),
    });
  await enqueueRebuild(connection, boss, LOCAL_OWNER);
  if (process.argv.includes('--wait')) await waitForChains();
  await boss.stop({ graceful: false });
} finally {
  await connection.close();
}

/** Waits for all jobs but the measures of sessions without chains of the whole demo, which nothing else waits for. */
async function waitForChains(): Promise<void> {
  for (let second = 0; ; second++) {
    const [{ open, done }] = await sql<{ open: number; done: number }[]>`
      select count(*) filter (where state in ('waiting', 'running'))::int as open, count(*)::int as done
      from jobs where payload->>'kind' <> 'demo-measures' or (payload->>'ofAll')::boolean`;
    if (open === 0) return;
    if (second % 10 === 0) console.log(`demo: ${done - open} of ${done} jobs`);
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
}
