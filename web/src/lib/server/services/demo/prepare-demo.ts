import { UNIVERSE } from '@umwelt/market/veldmar';
import type PgBoss from 'pg-boss';
import type { Connection } from '../../database/connect.ts';
import { enqueue } from '../../jobs/queue.ts';
import { LOCAL_OWNER } from '../environment.ts';
import { isDemoCurrent, storeDemoBase } from './demo-base.ts';
import { storeDemoToday } from './demo-chains.ts';
import { demoJobs } from './demo-jobs.ts';

/** Name of the jobs that fill the demo. */
export const DEMO_GROUP = 'Demo data';

/**
 * Stores the demo unless it is there: everything but chains, then today's chains of every underlying, at once; the rest
 * goes to the queue. Interrupted before that, the next start begins again.
 */
export async function prepareDemo(connection: Connection, boss: PgBoss, tell: (line: string) => void): Promise<void> {
  const { sql } = connection;
  const [{ count }] = await sql<{ count: number }[]>`
    select count(*)::int as count from jobs where owner = ${LOCAL_OWNER} and "group" = ${DEMO_GROUP}`;
  if (count > 0 && (await isDemoCurrent(connection))) return;
  tell('demo: simulating two years of the market');
  await sql`delete from jobs where owner = ${LOCAL_OWNER} and "group" = ${DEMO_GROUP}`;
  await storeDemoBase(connection);
  tell("demo: today's chains");
  for (const { symbol } of UNIVERSE) {
    await storeDemoToday(connection, symbol);
  }
  const ids = await enqueue(connection, boss, { owner: LOCAL_OWNER, group: DEMO_GROUP }, demoJobs());
  tell(`demo: ${ids.length} jobs fill its past`);
}
