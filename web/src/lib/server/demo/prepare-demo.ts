import { UNIVERSE } from '@umwelt/market/veldmar';
import type PgBoss from 'pg-boss';
import type { Connection } from '../database/connect.ts';
import { enqueue } from '../jobs/queue.ts';
import { LOCAL_OWNER } from '../processes/environment.ts';
import { claimUserRows } from './claim-user-rows.ts';
import { isDemoCurrent, storeDemoBase } from './demo-base.ts';
import { storeDemoToday } from './demo-chains.ts';
import { type DemoExtent, demoJobs } from './demo-jobs.ts';

/** Name of the jobs that fill the demo. */
export const DEMO_GROUP = 'Demo data';

/**
 * Stores the demo unless it is there, or anew when asked to: everything but chains, then today's chains of every underlying, at once; the rest
 * goes to the queue. Interrupted before that, the next start begins again.
 */
export async function prepareDemo(
  connection: Connection,
  boss: PgBoss,
  o: { extent: DemoExtent; isReset?: boolean; tell: (line: string) => void },
): Promise<void> {
  const { sql } = connection;
  const { tell } = o;
  await claimUserRows(connection);
  const [{ count }] = await sql<{ count: number }[]>`
    select count(*)::int as count from jobs where owner = ${LOCAL_OWNER} and "group" = ${DEMO_GROUP}`;
  if (!o.isReset && count > 0 && (await isDemoCurrent(connection))) return;
  tell('demo: simulating two years of the market');
  await dropDemoJobs(connection);
  await storeDemoBase(connection);
  tell("demo: today's chains");
  for (const { symbol } of UNIVERSE) {
    await storeDemoToday(connection, symbol);
  }
  const ids = await enqueue(connection, boss, { owner: LOCAL_OWNER, group: DEMO_GROUP }, demoJobs(o.extent));
  tell(`demo: ${ids.length} jobs fill its past`);
}

/** Takes the demo's jobs out of the list and out of the queue; those of users stay. */
async function dropDemoJobs({ sql }: Connection): Promise<void> {
  await sql`
    with gone as (delete from jobs where owner = ${LOCAL_OWNER} and "group" = ${DEMO_GROUP} returning id)
    delete from pgboss.job where id in (select id from gone)`;
}
