import { connect } from '../src/lib/server/database/connect.ts';
import { openQueue } from '../src/lib/server/jobs/queue.ts';
import { giveSignsOfLife } from '../src/lib/server/processes/sign-of-life.ts';
import { work } from '../src/lib/server/work/worker.ts';
import { readEnvironment } from '../src/lib/server/processes/environment.ts';

/* A worker process: takes jobs from the database in DATABASE_URL until it is told to stop. */

const url = readEnvironment().DATABASE_URL;
const connection = connect(url, { connections: 3 });
const boss = await openQueue(url);
const stop = new AbortController();
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => stop.abort());
const signs = giveSignsOfLife(connection, 'worker');
await work(connection, boss, stop.signal);
await signs.stop();
await boss.stop({ graceful: false });
await connection.close();
