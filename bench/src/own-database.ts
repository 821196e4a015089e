import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { connect } from '../../web/src/lib/server/database/connect.ts';

const root = fileURLToPath(new URL('../../', import.meta.url));

interface OwnDatabase {
  /** Address of the database */
  own: string;
  /** Brings it up to date, as ./start does */
  prepare: (...args: string[]) => Promise<void>;
  /** As many workers as there are processors */
  startWorkers: () => void;
}

/** Runs something on a database of its own beside the others, with the built processes; both are gone afterwards. */
export async function withOwnDatabase(url: string, run: (o: OwnDatabase) => Promise<void>): Promise<void> {
  const build = spawnSync(`${root}scripts/build.sh`, ['processes'], { cwd: root, stdio: 'inherit' });
  if (build.status !== 0) throw new Error('the processes do not build');
  const name = `bench_${process.pid}`;
  const own = url.replace(/\/[^/]*$/, `/${name}`);
  const admin = connect(url, { connections: 1 });
  await admin.sql.text(`create database ${name}`);
  const start = (script: string, ...args: string[]): ChildProcess =>
    spawn(process.execPath, [`${root}web/build-processes/${script}.js`, ...args], {
      env: { ...process.env, DATABASE_URL: own },
      stdio: 'ignore',
    });
  const workers: ChildProcess[] = [];
  try {
    await run({
      own,
      prepare: async (...args) => {
        const code = await new Promise((resolve) => start('prepare', ...args).once('exit', resolve));
        if (code !== 0) throw new Error('the database could not be prepared');
      },
      startWorkers: () => {
        for (let i = 0; i < availableParallelism(); i++) workers.push(start('worker'));
      },
    });
  } finally {
    for (const worker of workers) worker.kill();
    await Promise.all(workers.map((worker) => new Promise((resolve) => worker.once('exit', resolve))));
    await admin.sql.text(`drop database ${name} with (force)`);
    await admin.close();
  }
}
