import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { asOfContext } from '../../src/lib/api/as-of-context.ts';
import { importOptions } from '../../src/lib/api/chain-import.ts';
import { connect, type Connection } from '../../src/lib/server/database/connect.ts';
import { closeComputePool } from '../../src/lib/server/derive/pool.ts';
import { importChain } from '../../src/lib/server/imports/import-chain.ts';
import { loadPicture } from '../../src/lib/server/services/picture.ts';
import { migrationsFolder } from '../../src/lib/server/services/readiness.ts';
import { SYMBOLS } from '../demo-pictures.ts';
import { spooled } from './spooled.ts';

/*
 * Makes what tests begin with, unless it is there: `make-templates.ts empty=NAME today=NAME small=NAME pictures=FOLDER`. Databases that
 * others are copied from: without rows; with today's chains of every underlying; with the small demo and its past. And what views
 * see of the second, in files. Names carry a digest of what makes them; those of another digest are removed. `whole=NAME` makes a
 * database with the whole demo, anew.
 */

const base = process.env.DATABASE_URL ?? '';
const asked = Object.fromEntries(process.argv.slice(2).map((argument) => argument.split('=') as [string, string]));
const admin = connect(base, { connections: 1 });
const urlOf = (name: string) => base.replace(/\/[^/]*$/, `/${name}`);

const isThere = async (name: string) => (await admin.sql`select 1 from pg_database where datname = ${name}`).length > 0;

/** Makes room for a template: those of its kind with another digest go. @returns the name it has until it is whole */
async function begin(name: string, from: string): Promise<string> {
  const kind = name.replace(/[^_]*$/, '');
  const old = await admin.sql<{ datname: string }[]>`
    select datname from pg_database where left(datname, ${kind.length}) = ${kind}`;
  for (const { datname } of old) await admin.sql.text(`drop database ${datname} with (force)`);
  const unfinished = `${kind}unfinished`;
  await admin.sql.text(`create database ${unfinished} template ${from}`);
  return unfinished;
}
const finish = (unfinished: string, name: string) => admin.sql.text(`alter database ${unfinished} rename to ${name}`);

async function onDatabase(name: string, work: (connection: Connection) => Promise<unknown>): Promise<void> {
  const connection = connect(urlOf(name), { connections: 2 });
  try {
    await work(connection);
  } finally {
    await connection.close();
  }
}

async function makeEmpty(): Promise<void> {
  if (await isThere(asked.empty)) return;
  const unfinished = await begin(asked.empty, 'template1');
  await onDatabase(unfinished, ({ database }) => migrate(database, { migrationsFolder: migrationsFolder() }));
  await finish(unfinished, asked.empty);
}

/** The small demo; what is there before any of its past is the demo of today. */
async function makeDemos(): Promise<void> {
  if ((await isThere(asked.today)) && (await isThere(asked.small))) return;
  const small = await begin(asked.small, asked.empty);
  await end(run('prepare', urlOf(small), '--demo', '--small'));
  const today = await begin(asked.today, small);
  await onDatabase(today, ({ sql }) => sql`truncate jobs, pgboss.job`);
  await finish(today, asked.today);
  await fillPast(urlOf(small));
  await finish(small, asked.small);
}

/** Runs one of the application's bundled processes on a database. */
function run(script: string, url: string, ...args: string[]): ChildProcess {
  const path = join(dirname(process.argv[1]), `${script}.js`);
  return spawn(process.execPath, [path, ...args], { env: { ...process.env, DATABASE_URL: url }, stdio: 'inherit' });
}

async function end(child: ChildProcess): Promise<void> {
  const [status] = (await once(child, 'exit')) as [number | null];
  if (status !== 0) throw new Error(`${child.spawnargs.join(' ')} ended with ${status}`);
}

/** Works through the jobs of a database. */
async function fillPast(url: string): Promise<void> {
  const workers = [run('worker', url), run('worker', url)];
  try {
    await end(run('prepare', url, '--wait'));
  } finally {
    await Promise.all(
      workers.map((worker) => {
        worker.kill();
        return once(worker, 'exit');
      }),
    );
  }
}

/** Copies a template for a process of its own, since what is kept in memory goes by one database. */
async function onCopy(of: string, ...words: string[]): Promise<void> {
  const name = `pictures_${process.pid}`;
  await admin.sql.text(`create database ${name} template ${of}`);
  await end(run('make-templates', urlOf(name), ...words));
  await admin.sql.text(`drop database ${name} with (force)`);
}

async function makePictures(folder: string): Promise<void> {
  if (existsSync(folder)) return;
  const unfinished = `${folder.replace(/[^-]*$/, '')}unfinished`;
  for (const other of readdirSync(dirname(folder)))
    if (other.startsWith(basename(folder).replace(/[^-]*$/, '')))
      rmSync(join(dirname(folder), other), { recursive: true });
  mkdirSync(unfinished, { recursive: true });
  await onCopy(asked.today, `of=${SYMBOLS.join()}`, `into=${unfinished}`);
  await onCopy(asked.empty, `of=FJRD`, `into=${unfinished}`, 'import=e2e/files/heston-plain.csv');
  renameSync(unfinished, folder);
}

/** What views see of underlyings, into files. */
async function writePictures(connection: Connection): Promise<void> {
  if (asked.import) {
    const file = await spooled(readFileSync(asked.import));
    const outcome = await importChain(connection, 'local', { files: [file], options: importOptions.parse({}) });
    if (!outcome.ok) throw new Error(`${asked.import} was not imported`);
  }
  for (const symbol of asked.of.split(',')) {
    const loaded = await loadPicture(connection.database, symbol, asOfContext.parse({}));
    if (!loaded.ok) throw new Error(`${symbol}: ${loaded.reason}`);
    writeFileSync(join(asked.into, `${symbol}.json`), JSON.stringify(loaded.picture));
  }
  await closeComputePool();
}

try {
  if (asked.of) await onDatabase(new URL(base).pathname.slice(1), writePictures);
  else if (asked.whole) {
    await admin.sql.text(`drop database if exists ${asked.whole} with (force)`);
    await admin.sql.text(`create database ${asked.whole}`);
    await end(run('prepare', urlOf(asked.whole), '--demo'));
    await fillPast(urlOf(asked.whole));
  } else {
    await makeEmpty();
    await makeDemos();
    await makePictures(asked.pictures);
  }
} finally {
  await admin.close();
}
// What was received into the spool's folder goes with the process.
process.exit(0);
