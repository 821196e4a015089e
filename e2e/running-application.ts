import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { closeSync, mkdirSync, openSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';

/* The application as tests run it: all its processes under their supervisor, on a database made from the template that ./test prepared. */

export const root = fileURLToPath(new URL('..', import.meta.url));
const scratch = process.env.DATA_DIR ?? `${root}.data/test`;

/** A port that nobody listens on. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() =>
        address && typeof address === 'object' ? resolve(address.port) : reject(new Error('no port')),
      );
    });
  });
}

export interface RunningProcess {
  kind: 'server' | 'worker' | 'feed';
  pid: number;
  age: number;
  silentFor: number;
}

/** The application as ./start runs it, built already. */
export class Application {
  readonly address: string;
  readonly folder: string;
  /** Address of the database it was given */
  readonly database: string | undefined;
  readonly #supervisor: ChildProcess;

  private constructor(port: number, supervisor: ChildProcess, o: { folder: string; database: string | undefined }) {
    this.address = `http://127.0.0.1:${port}`;
    this.folder = o.folder;
    this.database = o.database;
    this.#supervisor = supervisor;
  }

  /**
   * Starts it and waits until it is ready.
   * @param o.database address of its database; without one it is a whole ./start with a database of its own and the small demo
   */
  static async start(name: string, o: { database?: string; workers: number; isKept?: boolean }): Promise<Application> {
    const folder = `${scratch}/${name}`;
    if (!o.isKept) rmSync(folder, { recursive: true, force: true });
    mkdirSync(folder, { recursive: true });
    const port = await freePort();
    const log = openSync(`${scratch}/${name}.log`, 'a');
    const environment: NodeJS.ProcessEnv = {
      ...process.env,
      DATA_DIR: folder,
      HOST: '127.0.0.1',
      PORT: String(port),
      WORKERS: String(o.workers),
    };
    delete environment.ORIGIN;
    if (o.database === undefined) delete environment.DATABASE_URL;
    else environment.DATABASE_URL = o.database;
    const [command, ...args] =
      o.database === undefined
        ? [`${root}start`, '--small']
        : [process.execPath, `${root}web/build-processes/supervise.js`, '--built'];
    const supervisor = spawn(command, args, { env: environment, stdio: ['ignore', log, log] });
    closeSync(log);
    const application = new Application(port, supervisor, { folder, database: o.database });
    await application.ready(`${scratch}/${name}.log`);
    return application;
  }

  /** Waits until pages can be served and the feed has a state. */
  async ready(log?: string): Promise<void> {
    for (;;) {
      const answers = (path: string) =>
        fetch(`${this.address}/api/v1/${path}`).then(
          (r) => r.ok,
          () => false,
        );
      if ((await answers('ready')) && (await answers('feed'))) return;
      if (this.#supervisor.exitCode !== null)
        throw new Error(`the application ended: ${log ? readFileSync(log, 'utf8').slice(-2000) : ''}`);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }

  /** Process of the supervisor. */
  get pid(): number {
    if (this.#supervisor.pid === undefined) throw new Error('the supervisor has no process');
    return this.#supervisor.pid;
  }

  /** The application's processes besides supervisor and database. */
  async processes(): Promise<RunningProcess[]> {
    const answer = await fetch(`${this.address}/api/v1/processes`);
    return ((await answer.json()) as { processes: RunningProcess[] }).processes;
  }

  stop(): Promise<void> {
    if (this.#supervisor.exitCode !== null || this.#supervisor.signalCode !== null) return Promise.resolve();
    return new Promise((resolve) => {
      this.#supervisor.once('exit', () => resolve());
      this.#supervisor.kill('SIGTERM');
    });
  }
}

/** A database of its own made from the template. */
export function databaseFromTemplate(name: string): string {
  return execFileSync(`${root}scripts/database.sh`, ['fresh', name, process.env.TEMPLATE_SMALL ?? ''], {
    encoding: 'utf8',
    env: { ...process.env, DATA_DIR: scratch },
  }).trim();
}
