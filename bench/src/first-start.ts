import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { connect } from '../../web/src/lib/server/database/connect.ts';
import { withOwnDatabase } from './own-database.ts';

const FLAGSHIP_YEAR = 700;

/**
 * How long the demo takes to fill, on a database of its own beside the others: today's chains, the flagships' year, all.
 * The application's build, which ./start does at the same time, is not in it.
 */
export async function firstStartFigures(url: string): Promise<void> {
  await withOwnDatabase(url, async ({ own, prepare, startWorkers }) => {
    const start = performance.now();
    const stolenAtStart = stolenSeconds();
    const seconds = () => {
      const wall = (performance.now() - start) / 1000;
      const stolen = (stolenSeconds() - stolenAtStart) / availableParallelism();
      return `${wall.toFixed(0)} s, in ${stolen.toFixed(0)} s of which the host ran others`;
    };
    await prepare('--demo');
    console.log(`first start: today of every underlying after ${seconds()}`);
    startWorkers();
    const { sql, close } = connect(own, { connections: 1 });
    const left = async (priority: number) => {
      const [row] = await sql<{ open: number }[]>`
        select count(*)::int as open from jobs j join pgboss.job q on q.id = j.id
        where j.state in ('waiting', 'running') and q.priority >= ${priority}`;
      return row.open;
    };
    for (const [priority, what] of [
      [FLAGSHIP_YEAR, "the flagships' year (goal 120 s)"],
      [0, 'everything (goal 300 s)'],
    ] as const) {
      while ((await left(priority)) > 0) await new Promise((resolve) => setTimeout(resolve, 500));
      console.log(`first start: ${what} after ${seconds()}`);
    }
    await close();
  });
}

/** Seconds of all processors together that the host has given to others since it started; 0 where it does not say. */
function stolenSeconds(): number {
  try {
    const [line] = readFileSync('/proc/stat', 'utf8').split('\n');
    // cpu, user, nice, system, idle, iowait, irq, softirq, steal: in hundredths of a second.
    return Number(line.trim().split(/\s+/)[8]) / 100;
  } catch {
    return 0;
  }
}
