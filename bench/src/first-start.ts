import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import postgres from 'postgres';
import { connect } from '../../web/src/lib/server/database/connect.ts';

const root = fileURLToPath(new URL('../../', import.meta.url));
const FLAGSHIP_YEAR = 700;

/**
 * How long the demo takes to fill, on a database of its own beside the others: today's chains, the flagships' year, all.
 * The application's build, which ./start does at the same time, is not in it.
 */
export async function firstStartFigures(url: string): Promise<void> {
  const build = spawnSync(`${root}scripts/build.sh`, ['processes'], { cwd: root, stdio: 'inherit' });
  if (build.status !== 0) throw new Error('the processes do not build');
  const name = `bench_${process.pid}`;
  const own = url.replace(/\/[^/]*$/, `/${name}`);
  const admin = postgres(url, { max: 1 });
  await admin.unsafe(`create database ${name}`);
  const start = performance.now();
  const stolenAtStart = stolenSeconds();
  const seconds = () => {
    const wall = (performance.now() - start) / 1000;
    const stolen = (stolenSeconds() - stolenAtStart) / availableParallelism();
    return `${wall.toFixed(0)} s, in ${stolen.toFixed(0)} s of which the host ran others`;
  };
  const run = (script: string, ...args: string[]): ChildProcess =>
    spawn(process.execPath, [`${root}web/build-processes/${script}.js`, ...args], {
      env: { ...process.env, DATABASE_URL: own },
      stdio: 'ignore',
    });
  const workers: ChildProcess[] = [];
  try {
    const prepared = await new Promise((resolve) => run('prepare', '--demo').once('exit', resolve));
    if (prepared !== 0) throw new Error('the database could not be prepared');
    console.log(`first start: today of every underlying after ${seconds()}`);
    for (let i = 0; i < availableParallelism(); i++) workers.push(run('worker'));
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
  } finally {
    for (const worker of workers) worker.kill();
    await Promise.all(workers.map((worker) => new Promise((resolve) => worker.once('exit', resolve))));
    await admin.unsafe(`drop database ${name} with (force)`);
    await admin.end();
  }
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
