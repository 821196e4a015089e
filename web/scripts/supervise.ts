import { execFile, spawn } from 'node:child_process';
import { appendFileSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { isOpen, readStartSettings } from '../src/lib/server/processes/environment.ts';
import { isLoopbackName, OPEN_REMEDY, OPEN_WARNING } from '../src/lib/server/processes/loopback.ts';
import { KeptProcess } from '../src/lib/server/processes/kept-process.ts';

/*
 * Starts the application's processes and starts each again when it dies: `supervise.ts [--dev] [--demo [--small]] [--reset] [--open]`.
 * Its own database too, unless DATABASE_URL names one. Whatever ends this process ends all of them.
 */

const run = promisify(execFile);
const root = fileURLToPath(new URL('../..', import.meta.url));
const built = (name: string) => join(root, 'web/build-processes', `${name}.js`);
const has = (option: string) => process.argv.includes(option);
const settings = readStartSettings();
if (has('--open')) process.env.OPEN = 'yes';
if (!isLoopbackName(settings.HOST) && !isOpen()) {
  console.error(`HOST=${settings.HOST} is not this machine alone. ${OPEN_REMEDY}`);
  process.exit(2);
}
const data = settings.DATA_DIR ?? join(root, '.data');
mkdirSync(data, { recursive: true });
const address = `http://${settings.HOST.includes(':') ? `[${settings.HOST}]` : settings.HOST}:${settings.PORT}`;

const tell = (line: string) => {
  console.log(line);
  try {
    appendFileSync(join(data, 'supervisor.log'), `${new Date().toISOString()} ${line}\n`);
  } catch {
    // A full disk must not end what guards the application.
  }
};

const kept: KeptProcess[] = [];
const ending = new AbortController();

/** Ends everything in the order in which one needs the other; the database last. */
async function finish(status: number): Promise<never> {
  if (ending.signal.aborted) return new Promise(() => undefined);
  ending.abort();
  const [first, ...others] = kept;
  const ownsDatabase = settings.DATABASE_URL === undefined && first !== undefined;
  await Promise.all((ownsDatabase ? others : kept).map((p) => p.stop()));
  // Fast shutdown: connections are ended, what is committed is kept.
  if (ownsDatabase) await first.stop('SIGINT', 60_000);
  rmSync(join(data, 'running.json'), { force: true });
  process.exit(status);
}
process.on('SIGINT', () => void finish(130));
process.on('SIGTERM', () => void finish(143));
process.on('SIGHUP', () => void finish(129));

function keep(name: string, o: { script?: string; command?: string; args?: string[]; env?: NodeJS.ProcessEnv } = {}) {
  const { script, command = process.execPath, args = script ? [built(script)] : [], env } = o;
  const one = new KeptProcess({ name, command, args, env, cwd: root }, tell);
  kept.push(one);
  one.start();
  return one;
}

/** The private cluster: the same port after it died, for all know its address. */
async function startDatabase(): Promise<string> {
  const script = join(root, 'scripts/database.sh');
  const log = openSync(join(data, 'postgres.log'), 'a');
  const env: NodeJS.ProcessEnv = {};
  // Parents of the database are told about by its own exit, so that a start that cannot succeed is not repeated.
  let isUp = false;
  const refused = new Promise<never>((_, reject) => {
    const database = new KeptProcess(
      {
        name: 'database',
        command: script,
        args: ['run'],
        env,
        cwd: root,
        stdio: ['ignore', log, 'pipe'],
        endsByItself: true,
      },
      tell,
      (child) => {
        let said = '';
        child.stderr?.on('data', (piece: Buffer) => {
          said += piece.toString();
          appendFileSync(join(data, 'postgres.log'), piece);
        });
        child.once('exit', (status) => {
          if (!isUp && status !== 0)
            reject(
              new Error(
                said
                  .split('\n')
                  .filter((l) => l.startsWith('database: ') || /FATAL|PANIC/.test(l))
                  .join('\n') || `status ${status}; see ${data}/postgres.log`,
              ),
            );
        });
      },
    );
    kept.push(database);
    database.start();
  });
  await Promise.race([run(script, ['ready']), refused]);
  isUp = true;
  refused.catch(() => undefined);
  const url = readFileSync(join(data, 'database-url'), 'utf8');
  env.PGPORT = new URL(url).port;
  return url;
}

/** Runs one of the build or preparing commands to its end; its lines are shown. */
function once(command: string, args: string[]): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit' });
    ending.signal.addEventListener('abort', () => child.kill());
    child.once('error', reject);
    child.once('exit', (status) =>
      status === 0 ? resolve() : reject(new Error(`${args.join(' ')}: status ${status}`)),
    );
  });
}

async function isReady(): Promise<boolean> {
  return fetch(`${address}/api/v1/ready`, { signal: AbortSignal.timeout(2000) }).then(
    (r) => r.ok,
    () => false,
  );
}

try {
  process.env.DATABASE_URL = settings.DATABASE_URL ?? (await startDatabase());
  // The demo's today is stored while the application is built. Within one machine nothing is gained by compressing.
  const isWithin = process.env.ORIGIN === undefined && isLoopbackName(settings.HOST);
  const building =
    has('--dev') || has('--built') ? undefined : once(join(root, 'scripts/build.sh'), [isWithin ? 'server' : 'all']);
  building?.catch(() => undefined);
  await once(process.execPath, [built('prepare'), ...process.argv.slice(2)]);
  await building;
  process.env.ORIGIN ??= address;
  process.env.HOST = settings.HOST;
  process.env.PORT = String(settings.PORT);
  if (has('--dev')) {
    const vite = join(root, 'node_modules/vite/bin/vite.js');
    const server = new KeptProcess(
      {
        name: 'server',
        command: process.execPath,
        args: [vite, 'dev', '--host', settings.HOST, '--port', String(settings.PORT), '--strictPort'],
        cwd: join(root, 'web'),
      },
      tell,
    );
    kept.push(server);
    server.start();
  } else keep('server', { script: 'serve' });
  keep('feed', { script: 'feed' });
  // Whoever looks at a page comes first, and who waits for the first one before all.
  for (let i = 1; i <= (settings.WORKERS ?? availableParallelism()); i++)
    keep(`worker ${i}`, { command: 'nice', args: ['-n', '19', process.execPath, built('worker')] });
  writeFileSync(join(data, 'running.json'), JSON.stringify({ address, pid: process.pid }));
  const slow = setTimeout(
    // A few ports, such as 4190, are refused by browsers and by fetch alike.
    () => tell(`There is no answer at ${address} yet; if it stays so, choose another PORT.`),
    30_000,
  );
  while (!ending.signal.aborted && !(await isReady())) await new Promise((resolve) => setTimeout(resolve, 200));
  clearTimeout(slow);
  if (!ending.signal.aborted) {
    tell(`Umwelt is ready at ${address}`);
    if (isOpen()) tell(OPEN_WARNING);
  }
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  await finish(1);
}
