import { migrate } from 'drizzle-orm/node-postgres/migrator';
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
 * rest by jobs, for which `--wait` waits. A reset makes the demo anew; what users own stays.
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
  if (process.argv.includes('--wait')) await waitForJobs();
  await boss.stop({ graceful: false });
} finally {
  await connection.close();
}

async function waitForJobs(): Promise<void> {
  for (let tenth = 0; ; tenth++) {
    const [{ open, done }] = await sql<{ open: number; done: number }[]>`
      select count(*) filter (where state in ('waiting', 'running'))::int as open, count(*)::int as done from jobs`;
    if (open === 0) return;
    if (tenth % 100 === 0) console.log(`demo: ${done - open} of ${done} jobs`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
